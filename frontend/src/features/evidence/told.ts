import { percentText } from '@/kit/scale'
import { responseOf } from '@/kit/responses'
import { meanText, type Axis } from './axis'
import type { ShownTest, SystemEvidence } from './model'

/** One build-up's result as it is drawn: what is said, and where it stands on its axis with both ends of its interval. */
export interface Told {
  text: string
  at: number | null
  low: number | null
  high: number | null
}

const HOUR = 60
const DAY = 1440

/** Minutes in the largest unit that tells them in few figures. */
export function durationText(minutes: number): string {
  const [size, unit] = minutes >= 2 * DAY ? [DAY, 'd'] : minutes >= 2 * HOUR ? [HOUR, 'h'] : [1, 'min']
  return `${Number((minutes / size).toFixed(1))} ${unit}`
}

/** What a build-up came to: a mean, the step that was read most, a share of panels, a time between two looks, how often preferred. */
export function told(response: string, test: ShownTest, row: SystemEvidence): Told {
  const [low = null, high = null] = row.ci ?? []
  const ladder = test.ladder
  if (ladder) {
    const own = ladder.systems.find((each) => each.system === row.system)
    const stood = own?.median_after == null ? 'none' : (ladder.steps[own.median_after] ?? '')
    return { text: `stands ${stood}`, at: row.mean, low, high }
  }
  if (row.time) {
    const { after, by } = row.time
    const text =
      by == null
        ? `over ${durationText(after)}`
        : after === by
          ? durationText(by)
          : `${durationText(after)}–${durationText(by)}`
    return { text, at: by ?? after, low: row.time.low, high: row.time.high }
  }
  if (row.mean == null) return { text: '–', at: null, low: null, high: null }
  switch (test.told_as) {
    case 'rank': {
      const most = [...row.steps].sort((a, b) => b.share - a.share)[0]
      const text = most ? `${most.words.toLowerCase()} ${percentText(most.share)}` : percentText(row.mean)
      return { text, at: row.mean, low, high }
    }
    case 'share':
      return { text: `${Math.round(row.mean * row.n_panels)} of ${row.n_panels}`, at: row.mean, low, high }
    case 'preference':
      return { text: percentText(row.mean), at: row.mean, low, high }
    default:
      return { text: meanText(response, row.mean), at: row.mean, low, high }
  }
}

/** What stands behind a number, in plain words and as the statistician calls it. */
export function aboutNumbers(test: ShownTest): { plain: string; term: string } {
  switch (test.told_as) {
    case 'ratio':
      return {
        plain:
          'middle values with the boards’ differences taken out; pairs are compared by how many times one is the other',
        term: 'geometric least-squares means, 95 % intervals; differences of logarithms by Tukey–Kramer and permutation',
      }
    case 'rank':
      return {
        plain:
          'how often each stands above a reading drawn from all; the bars are how often each step was read',
        term: 'relative effects of mid-ranks; pairs by permutation within boards (max |t|)',
      }
    case 'share':
      return {
        plain: 'panels on which it happened, and how sure that share is',
        term: 'shares with exact (Clopper–Pearson) 95 % intervals; pairs by permutation within boards',
      }
    case 'time':
      return {
        plain: 'between which looks half of the panels had come so far, and between which it surely lies',
        term: 'interval-censored medians (Turnbull), order-statistic intervals; generalised log-rank scores by permutation',
      }
    case 'preference':
      return {
        plain: 'how likely each is chosen over one as good as the others, and how sure that is',
        term: 'Bradley–Terry, judges as clusters; pairs by permutation within judges',
      }
    default:
      return {
        plain: 'means with the boards’ differences taken out, and how sure they are',
        term: 'least-squares means, 95 % intervals; pairs by Tukey–Kramer and permutation within boards (max |t|)',
      }
  }
}

/** The axis of what is no mean: shares of one, or time from nought. */
export function axisOfTold(test: ShownTest): Axis | null {
  if (test.told_as === 'rank' || test.told_as === 'share' || test.told_as === 'preference')
    return { from: 0, to: 1, ticks: [0, 0.25, 0.5, 0.75, 1] }
  return null
}

/** A tick of an axis in words. */
export function tickText(response: string, test: ShownTest, tick: number): string {
  if (axisOfTold(test)) return `${Math.round(100 * tick)} %`
  if (test.told_as === 'time') return durationText(tick)
  return responseOf(response).unit || !Number.isInteger(tick) ? String(tick) : tick.toFixed(0)
}
