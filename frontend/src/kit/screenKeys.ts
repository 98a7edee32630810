import { useEventListener } from '@vueuse/core'

/** Whether a key is meant for the screen: nothing is being typed, no dialog is open, no other key is held with it. */
export function isForScreen(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement
  if (event.ctrlKey || event.metaKey || event.altKey) return false
  if (/^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) return false
  return !document.querySelector('.el-overlay:not([style*="none"]), dialog[open]')
}

/** Keys of a screen, for as long as it lives; one that is held acts once. */
export function useScreenKeys(keys: Record<string, () => void>, isLive: () => boolean): void {
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    // A button or a link that has the focus is pressed by Enter itself, a button by the space bar too.
    const isPressed =
      ['Enter', ' '].includes(event.key) && /^(BUTTON|A|SUMMARY)$/.test((event.target as HTMLElement).tagName)
    const act = keys[event.key]
    if (!act || event.repeat || isPressed || !isForScreen(event) || !isLive()) return
    act()
    event.preventDefault()
  })
}
