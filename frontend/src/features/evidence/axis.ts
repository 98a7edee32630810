import { responseOf } from '@/kit/responses'
import type { ShownTest, SystemEvidence } from './model'
import { axisOfTold } from './told'

/** The line that means and their intervals are drawn on. */
export interface Axis {
  from: number
  to: number
  ticks: number[]
}

const MOST_STEPS = 7
const N_TICKS = 5

/** The scale's own ends where it has few steps; else what is there to be drawn, with round ticks. */
export function axisOf(response: string, tests: readonly ShownTest[]): Axis {
  const own = tests[0] && axisOfTold(tests[0])
  if (own) return own
  const { steps, lowest, highest } = responseOf(response)
  const isOnScale = tests.every((test) => test.told_as === 'difference')
  if (isOnScale && steps.length && steps.length <= MOST_STEPS && lowest != null && highest != null)
    return { from: lowest, to: highest, ticks: steps.map((step) => step.value) }
  const ends = tests.flatMap((test) => test.systems.flatMap(endsOf))
  const low = Math.min(...ends)
  const high = Math.max(...ends)
  if (!Number.isFinite(low)) return { from: 0, to: 1, ticks: [0, 1] }
  const step = roundStep((high - low || Math.abs(high) || 1) / (N_TICKS - 1))
  const from = Math.floor(low / step) * step
  const to = Math.max(Math.ceil(high / step) * step, from + step)
  const n = Math.round((to - from) / step)
  return {
    from,
    to,
    ticks: Array.from({ length: n + 1 }, (_, k) => Number((from + k * step).toPrecision(12))),
  }
}

/** All that a build-up's row needs room for. */
function endsOf(row: SystemEvidence): number[] {
  const known = [row.mean, ...(row.ci ?? []), row.time?.low, row.time?.high, row.time?.by, row.time?.after]
  return known.filter((each): each is number => each != null)
}

/** The next of 1, 2 and 5 times a power of ten. */
function roundStep(rough: number): number {
  const power = 10 ** Math.floor(Math.log10(rough))
  const share = rough / power
  return power * (share <= 1 ? 1 : share <= 2 ? 2 : share <= 5 ? 5 : 10)
}

/** A mean in as many figures as its scale is read in. */
export function meanText(response: string, mean: number): string {
  const { unit, steps } = responseOf(response)
  const figure = mean.toFixed(steps.length || Math.abs(mean) < 100 ? 1 : 0)
  return unit ? `${figure} ${unit}` : figure
}
