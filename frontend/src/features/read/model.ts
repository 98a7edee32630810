import type { Schemas } from '@/api/client'
import type { Ask } from '@/kit/answers/ask'
import type { BenchEntry } from '@/app/entries'
import { responseOf } from '@/kit/responses'
import { standingReading, type StandingReading } from './standing'

export type { Ask }
export type BlindSpot = Omit<
  Schemas['BlindSpot'],
  'values' | 'are_beyond' | 'singles' | 'choices' | 'note'
> & {
  asks: Ask[]
}
export type BlindPanel = Omit<Schemas['BlindPanel'], 'spots'> & { spots: BlindSpot[] }
export type Sitting = Omit<Schemas['Sitting'], 'panels'> & { panels: BlindPanel[] }

/** Which value is in hand: of which panel, which of its sites, which of what is asked there. */
export interface SpotPlace {
  panel: number
  spot: number
  ask: number
}

/** A site by what it is: the same exposure may stand on several sections of a panel. Place 0 is an undivided panel. */
export interface SpotName {
  panel: string
  /** 1 where the panel came round a second time. */
  turn?: number
  exposure: string
  place?: number
}
/** A value by what it is; without a response it is the first that is asked for. */
export interface AskName extends SpotName {
  response?: string
  view?: string
  against?: string
}

/** The sitting as it was sent, its values beside what is asked. One that an earlier release kept in the browser lacks what came since. */
export function laidOut(sent: Schemas['Sitting']): Sitting {
  const tests = new Map(sent.exposures.map((test) => [test.id, test]))
  return {
    ...sent,
    instruments: (sent.instruments as string[] | undefined) ?? [],
    panels: sent.panels.map((panel) => ({
      ...panel,
      spots: panel.spots.map(({ values, are_beyond, singles, choices, note, ...spot }) => ({
        ...spot,
        worked_out: (spot.worked_out as BlindSpot['worked_out'] | undefined) ?? [],
        asks: [
          ...(tests.get(spot.exposure)?.prompts ?? []).map((prompt, n) => ({
            ...prompt,
            against: '',
            value: values[n] ?? null,
            is_beyond: are_beyond[n] ?? false,
            singles: (singles as number[][] | undefined)?.[n] ?? [],
            note: n === 0 ? note : '',
          })),
          ...choices.map((choice) => ({
            response: tests.get(spot.exposure)?.choice ?? '',
            view: '',
            against: choice.against,
            isSwapped: choice.is_swapped,
            value: choice.value,
            is_beyond: false,
            note: '',
          })),
        ],
      })),
    })),
  }
}

/** What was read at a site of the same scale from the view before; null where there is none, or it is a measure. */
export function sameAsBefore(spot: BlindSpot, at: number): { value: number; view: string } | null {
  const here = spot.asks[at]
  if (!here?.view || here.against || responseOf(here.response).form === 'measure') return null
  const before = spot.asks
    .slice(0, at)
    .reverse()
    .find(
      (other) => other.response === here.response && other.view && other.view !== here.view && !other.against,
    )
  return before?.value == null ? null : { value: before.value, view: before.view }
}

export function isPanel(found: { code: string; turn: number }, at: SpotName): boolean {
  return found.code === at.panel && found.turn === (at.turn ?? 0)
}

export function isSpot(
  spot: { exposure: string; place: number },
  at: Omit<SpotName, 'panel' | 'turn'>,
): boolean {
  return spot.exposure === at.exposure && spot.place === (at.place ?? 0)
}

function isAsk(ask: Ask, at: AskName, index: number): boolean {
  if (!at.response) return index === 0
  return ask.response === at.response && ask.view === (at.view ?? '') && ask.against === (at.against ?? '')
}

/** What tells a panel's spots apart on its drawing. */
export function spotId(spot: { exposure: string; place: number }): string {
  return spot.place ? `${spot.exposure}/${spot.place}` : spot.exposure
}

export const ARROWS = ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'] as const
export type Arrow = (typeof ARROWS)[number]

/** The sitting with what stands of one value replaced. */
export function withAsk(sitting: Sitting, at: AskName, values: StandingReading): Sitting {
  return {
    ...sitting,
    panels: sitting.panels.map((found) =>
      !isPanel(found, at)
        ? found
        : {
            ...found,
            spots: found.spots.map((spot) =>
              isSpot(spot, at)
                ? {
                    ...spot,
                    asks: spot.asks.map((ask, n) => (isAsk(ask, at, n) ? { ...ask, ...values } : ask)),
                  }
                : spot,
            ),
          },
    ),
  }
}

export function findAsk(sitting: Sitting, at: AskName): Ask | undefined {
  return sitting.panels
    .find((found) => isPanel(found, at))
    ?.spots.find((spot) => isSpot(spot, at))
    ?.asks.find((ask, n) => isAsk(ask, at, n))
}

/** The sitting with entries that the server may not have yet laid over it, oldest first. */
export function withEntries(sitting: Sitting, entries: readonly BenchEntry[]): Sitting {
  const byAsk = new Map<string, BenchEntry[]>()
  for (const entry of entries) {
    if (entry.trial_id !== sitting.trial_id || entry.look !== sitting.look.id) continue
    const key = [
      entry.panel,
      entry.turn ?? 0,
      entry.exposure,
      entry.place ?? 0,
      entry.response,
      entry.view,
      entry.against,
    ].join('|')
    byAsk.set(key, [...(byAsk.get(key) ?? []), entry])
  }
  return [...byAsk.values()].reduce((current, own) => {
    const at = own[0]
    const ask = at && findAsk(current, at)
    return ask ? withAsk(current, at, standingReading(own, ask)) : current
  }, sitting)
}

/** Where reading goes on: the next value that is missing on this panel, else on the panels after it, else before. */
export function nextUnread(panels: readonly BlindPanel[], from: SpotPlace): SpotPlace | null {
  const order = [...panels.keys()]
  const turned = [...order.slice(from.panel), ...order.slice(0, from.panel)]
  for (const panel of turned) {
    const asks = (panels[panel]?.spots ?? []).flatMap((spot, n) =>
      spot.asks.map((ask, k) => ({ ask, place: { panel, spot: n, ask: k } })),
    )
    const here = asks.findIndex(({ place }) => place.spot === from.spot && place.ask === from.ask)
    const start = panel === from.panel ? here + 1 : 0
    const found = [...asks.slice(start), ...asks.slice(0, start)].find(({ ask }) => ask.value == null)
    if (found) return found.place
  }
  return null
}

/** The nearest spot in the arrow's direction; sideways the one before or after where several take the whole face. */
export function stepSpot(spots: readonly BlindSpot[], from: number, arrow: Arrow): number {
  const here = spots[from]
  if (!here) return 0
  const sideways = arrow === 'ArrowLeft' || arrow === 'ArrowRight'
  const forward = arrow === 'ArrowRight' || arrow === 'ArrowUp' ? 1 : -1
  let best = from
  let bestCost = Infinity
  spots.forEach((spot, index) => {
    const along = forward * (sideways ? spot.x_mm - here.x_mm : spot.y_mm - here.y_mm)
    const across = Math.abs(sideways ? spot.y_mm - here.y_mm : spot.x_mm - here.x_mm)
    if (spot.side !== here.side || along <= 1 || (!sideways && across > 60)) return
    const cost = along + 2 * across
    if (cost < bestCost) [best, bestCost] = [index, cost]
  })
  const isWhole = (spot: BlindSpot | undefined) => spot !== undefined && spot.kind !== 'spot'
  const beside = spots[from + forward]
  return best === from && sideways && beside && (isWhole(here) || isWhole(beside)) ? from + forward : best
}

/** What is measured at once with the value at a place: of one instrument, from one view. Empty where it is no measure. */
export function measuredWith(spot: BlindSpot, at: number): number[] {
  const here = spot.asks[at]
  if (!here || here.against || responseOf(here.response).form !== 'measure') return []
  return [...spot.asks.keys()].filter((n) => {
    const other = spot.asks[n]
    return (
      other &&
      !other.against &&
      other.view === here.view &&
      (n === at ||
        (responseOf(other.response).line !== null &&
          responseOf(other.response).line?.[0] === responseOf(here.response).line?.[0]))
    )
  })
}

/** The sitting with what follows from what was measured at a site. */
export function withWorkedOut(sitting: Sitting, at: SpotName, found: BlindSpot['worked_out']): Sitting {
  return {
    ...sitting,
    panels: sitting.panels.map((panel) =>
      isPanel(panel, at)
        ? {
            ...panel,
            spots: panel.spots.map((spot) => (isSpot(spot, at) ? { ...spot, worked_out: found } : spot)),
          }
        : panel,
    ),
  }
}

export function countRead(panels: readonly BlindPanel[]): number {
  return sumAsks(panels, (asks) => asks.filter((ask) => ask.value != null).length)
}
export function countAsked(panels: readonly BlindPanel[]): number {
  return sumAsks(panels, (asks) => asks.length)
}
function sumAsks(panels: readonly BlindPanel[], count: (asks: readonly Ask[]) => number): number {
  return panels.reduce((sum, panel) => sum + panel.spots.reduce((own, spot) => own + count(spot.asks), 0), 0)
}
