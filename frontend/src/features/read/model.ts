import type { Schemas } from '@/api/client'
import type { BenchEntry } from '@/app/entries'
import { standingReading } from './standing'

export type Sitting = Schemas['Sitting']
export type BlindPanel = Schemas['BlindPanel']
export type BlindSpot = Schemas['BlindSpot']

export interface SpotPlace {
  panel: number
  spot: number
}

/** A spot by what it is: the same exposure may stand on several sections of a panel. Place 0 is an undivided panel. */
export interface SpotName {
  panel: string
  exposure: string
  place?: number
}

export function isSpot(spot: { exposure: string; place: number }, at: Omit<SpotName, 'panel'>): boolean {
  return spot.exposure === at.exposure && spot.place === (at.place ?? 0)
}

/** What tells a panel's spots apart on its drawing. */
export function spotId(spot: { exposure: string; place: number }): string {
  return spot.place ? `${spot.exposure}/${spot.place}` : spot.exposure
}

export const ARROWS = ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'] as const
export type Arrow = (typeof ARROWS)[number]

/** The sitting with one spot's grade and note replaced. */
export function withSpot(
  sitting: Sitting,
  at: SpotName,
  values: { grade: number | null; note: string },
): Sitting {
  return {
    ...sitting,
    panels: sitting.panels.map((found) =>
      found.code !== at.panel
        ? found
        : {
            ...found,
            spots: found.spots.map((spot) => (isSpot(spot, at) ? { ...spot, ...values } : spot)),
          },
    ),
  }
}

export function findSpot(sitting: Sitting, at: SpotName): BlindSpot | undefined {
  return sitting.panels.find((found) => found.code === at.panel)?.spots.find((spot) => isSpot(spot, at))
}

/** The sitting with entries that the server may not have yet laid over it, oldest first. */
export function withEntries(sitting: Sitting, entries: readonly BenchEntry[]): Sitting {
  const bySpot = new Map<string, BenchEntry[]>()
  for (const entry of entries) {
    if (entry.trial_id !== sitting.trial_id || entry.look !== sitting.look.id) continue
    const key = `${entry.panel} ${spotId({ exposure: entry.exposure, place: entry.place ?? 0 })}`
    bySpot.set(key, [...(bySpot.get(key) ?? []), entry])
  }
  return [...bySpot.values()].reduce((current, own) => {
    const at = own[0]
    const spot = at && findSpot(current, at)
    return spot ? withSpot(current, at, standingReading(own, spot)) : current
  }, sitting)
}

/** Where grading goes on: the next spot without a grade on this panel, else on the panels after it, else before. */
export function nextUngraded(panels: readonly BlindPanel[], from: SpotPlace): SpotPlace | null {
  const order = [...panels.keys()]
  const turned = [...order.slice(from.panel), ...order.slice(0, from.panel)]
  for (const panel of turned) {
    const spots = panels[panel]?.spots ?? []
    const start = panel === from.panel ? from.spot + 1 : 0
    const places = [...spots.keys()]
    for (const spot of [...places.slice(start), ...places.slice(0, start)])
      if (spots[spot]?.grade == null) return { panel, spot }
  }
  return null
}

/** The nearest spot in the arrow's direction, or the same one when there is none. */
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
  return best
}

export function countGraded(panels: readonly BlindPanel[]): number {
  return panels.reduce((sum, panel) => sum + panel.spots.filter((spot) => spot.grade != null).length, 0)
}
