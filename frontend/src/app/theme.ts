import { usePreferredDark, useStorage } from '@vueuse/core'
import { computed, watchEffect } from 'vue'

export const THEMES = ['light', 'dark'] as const
export type Theme = (typeof THEMES)[number]

/** The person's choice, remembered in this browser; empty until one was made. */
const chosen = useStorage<Theme | ''>('nublet.theme', '')
const systemIsDark = usePreferredDark()

/** What was chosen, and until then what the system shows. */
export const theme = computed<Theme>({
  get: () => chosen.value || (systemIsDark.value ? 'dark' : 'light'),
  set: (wanted) => (chosen.value = wanted),
})

/** Keep the page in the chosen theme; the component library goes by the class. */
export function followTheme(): void {
  watchEffect(() => {
    document.documentElement.classList.toggle('dark', theme.value === 'dark')
  })
}
