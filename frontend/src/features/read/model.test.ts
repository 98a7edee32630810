import { describe, expect, it } from 'vitest'
import {
  countGraded,
  findSpot,
  nextUngraded,
  spotId,
  stepSpot,
  withEntries,
  withSpot,
  type BlindSpot,
  type Sitting,
} from './model'
import type { BenchEntry } from '@/app/entries'

function spot(exposure: string, x_mm: number, y_mm: number, grade: number | null = null): BlindSpot {
  return { exposure, place: 0, side: 'front', x_mm, y_mm, diameter_mm: 40, grade, note: '' }
}

function sitting(...panels: BlindSpot[][]): Sitting {
  return {
    trial_id: 7,
    trial_name: 'Saloon tables',
    is_simulated: false,
    judge: 'Imara Stolt',
    judge_id: 3,
    look: { id: '24h', name: '24 h', after_min: 1440, after: '', tolerance_min: null },
    looks: [],
    panel_length_mm: 400,
    panel_width_mm: 150,
    exposures: [],
    grades: [],
    panels: panels.map((spots, index) => ({ code: `K${index}`, species: 'beech', areas: [], spots })),
  }
}

function entry(fields: Partial<BenchEntry>): BenchEntry {
  return {
    client_id: 'x',
    trial_id: 7,
    panel: 'K0',
    exposure: 'wine',
    look: '24h',
    kind: 'grade',
    grade: 3,
    ...fields,
  }
}

describe('nextUngraded', () => {
  const panels = sitting(
    [spot('a', 0, 0, 5), spot('b', 1, 0), spot('c', 2, 0, 4)],
    [spot('a', 0, 0, 1), spot('b', 1, 0, 2)],
    [spot('a', 0, 0, 1), spot('b', 1, 0)],
  ).panels

  it('goes on with the next spot, then turns back on the same panel', () => {
    expect(nextUngraded(panels, { panel: 0, spot: 0 })).toEqual({ panel: 0, spot: 1 })
    expect(nextUngraded(panels, { panel: 0, spot: 2 })).toEqual({ panel: 0, spot: 1 })
  })
  it('skips panels that are graded and comes round to earlier ones', () => {
    expect(nextUngraded(panels, { panel: 1, spot: 1 })).toEqual({ panel: 2, spot: 1 })
    const last = panels.map((panel, i) =>
      i === 2 ? { ...panel, spots: panel.spots.map((s) => ({ ...s, grade: 3 })) } : panel,
    )
    expect(nextUngraded(last, { panel: 2, spot: 1 })).toEqual({ panel: 0, spot: 1 })
  })
  it('has nowhere to go when all is graded', () => {
    expect(nextUngraded([panels[1]!], { panel: 0, spot: 0 })).toBeNull()
  })
})

describe('stepSpot', () => {
  // Two columns of two liquids, then a hot block in the middle of the width.
  const spots = [
    spot('tl', 50, 100),
    spot('bl', 50, 40),
    spot('tr', 120, 100),
    spot('br', 120, 40),
    spot('hot', 250, 75),
  ]

  it.each([
    [0, 'ArrowRight', 2],
    [0, 'ArrowDown', 1],
    [1, 'ArrowUp', 0],
    [3, 'ArrowLeft', 1],
    [2, 'ArrowRight', 4],
    [4, 'ArrowLeft', 2],
    [4, 'ArrowUp', 4],
    [0, 'ArrowLeft', 0],
  ] as const)('from %i with %s to %i', (from, arrow, to) => {
    expect(stepSpot(spots, from, arrow)).toBe(to)
  })
})

describe('entries over a sitting', () => {
  it('lays what the server may not have yet over what it sent', () => {
    const shown = withEntries(sitting([spot('wine', 0, 0, 5)]), [
      entry({ grade: 2 }),
      entry({ kind: 'note', note: 'ring' }),
      entry({ trial_id: 8, grade: 1 }),
      entry({ look: 'lifted', grade: 1 }),
      entry({ panel: 'gone', grade: 1 }),
    ])
    expect(findSpot(shown, { panel: 'K0', exposure: 'wine' })).toMatchObject({ grade: 2, note: 'ring' })
  })
  it('keeps the same exposure on two sections apart', () => {
    const onTwo = sitting([spot('wine', 0, 0), { ...spot('wine', 200, 0), place: 2 }])
    const shown = withEntries(onTwo, [entry({ place: 2, grade: 4 })])
    expect(shown.panels[0]!.spots.map((found) => found.grade)).toEqual([null, 4])
    expect(shown.panels[0]!.spots.map(spotId)).toEqual(['wine', 'wine/2'])
  })
  it('changes one spot of one panel and leaves the first object alone', () => {
    const before = sitting([spot('wine', 0, 0)], [spot('wine', 0, 0)])
    const after = withSpot(before, { panel: 'K1', exposure: 'wine' }, { grade: 4, note: '' })
    expect(before.panels[1]!.spots[0]!.grade).toBeNull()
    expect(after.panels.map((panel) => panel.spots[0]!.grade)).toEqual([null, 4])
    expect(countGraded(after.panels)).toBe(1)
  })
})
