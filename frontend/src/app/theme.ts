import { useStorage } from '@vueuse/core'
import { watchEffect } from 'vue'

export const THEMES = ['light', 'dark'] as const
export type Theme = (typeof THEMES)[number]

/** The person's choice, remembered in this browser. */
export const theme = useStorage<Theme>('nublet.theme', 'light')

/** Keep the page in the chosen theme; the component library goes by the class. */
export function followTheme(): void {
  watchEffect(() => {
    document.documentElement.classList.toggle('dark', theme.value === 'dark')
  })
}
