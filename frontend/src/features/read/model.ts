import type { Schemas } from '@/api/client'
import type { BenchEntry } from '@/app/entries'

export type Sitting = Schemas['Sitting']
export type BlindPanel = Schemas['BlindPanel']
export type BlindSpot = Schemas['BlindSpot']

export interface SpotPlace {
  panel: number
  spot: number
}

export const ARROWS = ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'] as const
export type Arrow = (typeof ARROWS)[number]

/** The sitting with one spot's grade and note replaced. */
export function withSpot(
  sitting: Sitting,
  panel: string,
  exposure: string,
  values: { grade: number | null; note: string },
): Sitting {
  return {
    ...sitting,
    panels: sitting.panels.map((found) =>
      found.code !== panel
        ? found
        : {
            ...found,
            spots: found.spots.map((spot) => (spot.exposure === exposure ? { ...spot, ...values } : spot)),
          },
    ),
  }
}

export function findSpot(sitting: Sitting, panel: string, exposure: string): BlindSpot | undefined {
  return sitting.panels
    .find((found) => found.code === panel)
    ?.spots.find((spot) => spot.exposure === exposure)
}

/** The sitting with entries that the server may not have yet laid over it, oldest first. */
export function withEntries(sitting: Sitting, entries: readonly BenchEntry[]): Sitting {
  return entries.reduce((current, entry) => {
    const spot = findSpot(current, entry.panel, entry.exposure)
    if (!spot || entry.trial_id !== sitting.trial_id || entry.look !== sitting.look.id) return current
    if (entry.kind === 'grade')
      return withSpot(current, entry.panel, entry.exposure, { grade: entry.grade ?? null, note: spot.note })
    if (entry.kind === 'note')
      return withSpot(current, entry.panel, entry.exposure, { grade: spot.grade, note: entry.note ?? '' })
    return current
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
    if (along <= 1 || (!sideways && across > 60)) return
    const cost = along + 2 * across
    if (cost < bestCost) [best, bestCost] = [index, cost]
  })
  return best
}

export function countGraded(panels: readonly BlindPanel[]): number {
  return panels.reduce((sum, panel) => sum + panel.spots.filter((spot) => spot.grade != null).length, 0)
}
