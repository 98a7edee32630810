import { useLocalStorage } from '@vueuse/core'

/** A name that this device drew for itself: two devices of one reader are told apart by it, and nobody else learns it. */
export const deviceName = useLocalStorage('nublet.device', () => crypto.randomUUID().slice(0, 13))
