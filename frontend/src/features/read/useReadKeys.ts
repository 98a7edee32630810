import { useEventListener } from '@vueuse/core'
import { isForScreen } from '@/kit/screenKeys'
import { ARROWS, type Arrow } from './model'

/** What a judge does by keys. */
export interface ReadActs {
  move: (arrow: Arrow) => void
  takeBack: () => void
  turn: (by: number) => void
  openNote: () => void
  photograph: () => void
  showDrawings: () => void
  toggleHelp: () => void
}

/** Every key of the reading screen but those that answer; none while a note is written. A step may be called n: N is always the note. */
export function useReadKeys(acts: ReadActs, isNoting: () => boolean): void {
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    if (isNoting() || !isForScreen(event)) return
    const key = event.key
    if ((ARROWS as readonly string[]).includes(key)) acts.move(key as Arrow)
    else if (key.toLowerCase() === 'u') acts.takeBack()
    else if (key.toLowerCase() === 'n') acts.openNote()
    else if (key.toLowerCase() === 'p') acts.photograph()
    else if (key.toLowerCase() === 'w') acts.showDrawings()
    else if (key === '[' || key === 'PageUp') acts.turn(-1)
    else if (key === ']' || key === 'PageDown') acts.turn(1)
    else if (key === '?') acts.toggleHelp()
    else return
    event.preventDefault()
  })
}
