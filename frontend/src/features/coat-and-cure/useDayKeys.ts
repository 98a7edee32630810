import type { Ref } from 'vue'
import { useScreenKeys } from '@/kit/screenKeys'
import type { useDayView } from './useDayView'

/** What the work in hand does by keys. */
export interface DeskKeys {
  goOn: () => void
  finish: () => void
  even: () => void
  ask: (what: 'other' | 'skip') => void
  takeBack: () => void
}

/** Every key of the bench days. */
export function useDayKeys(
  view: ReturnType<typeof useDayView>,
  desk: () => DeskKeys | null,
  isShowingKeys: Ref<boolean>,
  isOn: () => boolean,
): void {
  useScreenKeys(
    {
      ArrowDown: () => view.step(1),
      ArrowUp: () => view.step(-1),
      ArrowLeft: () => view.shift(-1),
      ArrowRight: () => view.shift(1),
      Enter: () => desk()?.goOn(),
      d: () => desk()?.finish(),
      e: () => desk()?.even(),
      o: () => desk()?.ask('other'),
      s: () => desk()?.ask('skip'),
      u: () => desk()?.takeBack(),
      '+': () => view.zoomBy(1),
      '-': () => view.zoomBy(-1),
      '[': () => view.turn(-1),
      ']': () => view.turn(1),
      n: view.takeNext,
      '?': () => (isShowingKeys.value = !isShowingKeys.value),
    },
    isOn,
  )
}
