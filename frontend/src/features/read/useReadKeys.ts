import { useEventListener } from '@vueuse/core'
import { isForScreen } from '@/app/screenKeys'
import type { Schemas } from '@/api/client'
import { ARROWS, type Arrow } from './model'

/** What a judge does by keys. */
export interface ReadActs {
  grade: (value: number) => void
  move: (arrow: Arrow) => void
  takeBack: () => void
  turn: (by: number) => void
  openNote: () => void
  toggleHelp: () => void
}

/** Every key of the grading screen; none while a note is written. */
export function useReadKeys(
  acts: ReadActs,
  steps: () => readonly Schemas['GradeMeaning'][],
  isNoting: () => boolean,
): void {
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    if (isNoting() || !isForScreen(event)) return
    const key = event.key
    const step = steps().find((found) => found.key === key)
    if (step) {
      // A held key must not grade the next spots too.
      if (!event.repeat) acts.grade(step.grade)
    } else if ((ARROWS as readonly string[]).includes(key)) acts.move(key as Arrow)
    else if (key.toLowerCase() === 'u') acts.takeBack()
    else if (key.toLowerCase() === 'n') acts.openNote()
    else if (key === '[' || key === 'PageUp') acts.turn(-1)
    else if (key === ']' || key === 'PageDown') acts.turn(1)
    else if (key === '?') acts.toggleHelp()
    else return
    event.preventDefault()
  })
}
