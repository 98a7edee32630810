import { computed, type Ref } from 'vue'
import { nameWithin, responseOf, viewWords } from '@/kit/responses'
import {
  measuredWith,
  sameAsBefore,
  spotId,
  type Ask,
  type BlindPanel,
  type BlindSpot,
  type Sitting,
  type SpotPlace,
} from './model'
import type { InView } from './usePhotographs'

interface Held {
  sitting: Ref<Sitting | null>
  panel: Ref<BlindPanel | undefined>
  spot: Ref<BlindSpot | undefined>
  ask: Ref<Ask | undefined>
  place: Ref<SpotPlace>
}

/** What follows of the value in hand: how it is asked for, what is given with it, what a photograph would be of. */
export function useInHand({ sitting, panel, spot, ask, place }: Held, isByHands: () => boolean) {
  const names = computed(() => new Map(sitting.value?.exposures.map((found) => [found.id, found])))
  const exposure = computed(() => names.value.get(spot.value?.exposure ?? ''))
  const isDrawn = computed(() => responseOf(ask.value?.response ?? '').is_drawn)
  /** What was read from the view before: glancing is often the same. */
  const same = computed(() => (spot.value ? sameAsBefore(spot.value, place.value.ask) : null))
  /** What the instrument in hand gives at once; empty where no hands measure. */
  const together = computed(() => {
    const here = spot.value
    if (!isByHands() || !here) return []
    return measuredWith(here, place.value.ask).flatMap((n) => here.asks[n] ?? [])
  })
  /** Changes with what is in hand. */
  const at = computed(() => {
    if (!panel.value || !spot.value) return ''
    const first = together.value[0]
    const value = first ? `${first.response} ${first.view}` : place.value.ask
    return `${panel.value.code}|${panel.value.turn}|${spotId(spot.value)}|${value}`
  })
  const inView = computed<InView | null>(() =>
    sitting.value && panel.value && spot.value
      ? {
          judge: sitting.value.judge_id,
          panel: panel.value.code,
          exposure: spot.value.exposure,
          place: spot.value.place,
          look: sitting.value.look.id,
        }
      : null,
  )
  const asksFor = computed(() => {
    const [one, code] = [ask.value, panel.value?.code ?? '']
    if (!one) return ''
    if (one.against) {
      const [left, right] = one.isSwapped ? [one.against, code] : [code, one.against]
      return `Lay ${left} at the left and ${right} at the right. Which would you rather have?`
    }
    if (one.view) return `${viewWords(one.view)}: ${nameWithin(one.response)}.`
    if (together.value.length) return 'A reading a row; their mean is kept, and each of them.'
    return one.response === 'grade'
      ? 'Look square on, then with the lamp glancing. What does the mark look like now?'
      : `${responseOf(one.response).name}, wherever it is seen best.`
  })
  return { names, exposure, isDrawn, same, together, at, inView, asksFor }
}
