import { describe, expect, it } from 'vitest'
import {
  countAsked,
  countRead,
  findAsk,
  laidOut,
  measuredWith,
  nextUnread,
  sameAsBefore,
  spotId,
  stepSpot,
  withAsk,
  withEntries,
  type Ask,
  type BlindSpot,
  type Sitting,
} from './model'
import type { BenchEntry } from '@/app/entries'

function ask(value: number | null, fields: Partial<Ask> = {}): Ask {
  return { response: 'grade', view: '', against: '', value, is_beyond: false, note: '', ...fields }
}

function spot(exposure: string, x_mm: number, y_mm: number, ...values: (number | null)[]): BlindSpot {
  const views = ['square-on', 'glancing']
  return {
    exposure, kind: 'spot', place: 0, side: 'front', x_mm, y_mm, diameter_mm: 40, along_mm: 0, across_mm: 0, worked_out: [],
    asks:
      values.length > 1
        ? values.map((value, n) => ask(value, { view: views[n] ?? '' }))
        : [ask(values[0] ?? null)],
  } // prettier-ignore
}

function sitting(...panels: BlindSpot[][]): Sitting {
  return {
    trial_id: 7,
    trial_name: 'Saloon tables',
    is_simulated: false,
    judge: 'Imara Stolt',
    judge_id: 3,
    by: 'judges',
    look: { id: '24h', name: '24 h', after_min: 1440, after: '', tolerance_min: null },
    looks: [],
    exposures: [],
    progress: [],
    instruments: [],
    grade_school: 'numbers',
    panels: panels.map((spots, index) => ({
      code: `K${index}`,
      turn: 0,
      species: 'beech',
      length_mm: 400,
      width_mm: 150,
      areas: [],
      spots,
    })),
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
    value: 3,
    ...fields,
  }
}

const at = (panel: number, spot: number, ask = 0) => ({ panel, spot, ask })

describe('nextUnread', () => {
  const panels = sitting(
    [spot('a', 0, 0, 5), spot('b', 1, 0), spot('c', 2, 0, 4)],
    [spot('a', 0, 0, 1), spot('b', 1, 0, 2)],
    [spot('a', 0, 0, 1), spot('b', 1, 0)],
  ).panels

  it('goes on with the next spot, then turns back on the same panel', () => {
    expect(nextUnread(panels, at(0, 0))).toEqual(at(0, 1))
    expect(nextUnread(panels, at(0, 2))).toEqual(at(0, 1))
  })
  it('asks for every view of a spot before it goes on', () => {
    const seen = sitting([spot('a', 0, 0, 4, null), spot('b', 1, 0, null, null)]).panels
    expect(nextUnread(seen, at(0, 0, 0))).toEqual(at(0, 0, 1))
    expect(nextUnread(seen, at(0, 0, 1))).toEqual(at(0, 1, 0))
    expect([countRead(seen), countAsked(seen)]).toEqual([1, 4])
  })
  it('skips panels that are graded and comes round to earlier ones', () => {
    expect(nextUnread(panels, at(1, 1))).toEqual(at(2, 1))
    const last = panels.map((panel, i) =>
      i === 2 ? { ...panel, spots: panel.spots.map((s) => ({ ...s, asks: [ask(3)] })) } : panel,
    )
    expect(nextUnread(last, at(2, 1))).toEqual(at(0, 1))
  })
  it('has nowhere to go when all is graded', () => {
    expect(nextUnread([panels[1]!], at(0, 0))).toBeNull()
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

describe('sideways among what takes the whole face', () => {
  const whole = [spot('sheen', 200, 75), spot('looks', 200, 75), spot('feel', 200, 75)].map((each) => ({
    ...each,
    kind: 'panel' as const,
  }))
  it('goes one on or back, and stays at the ends', () => {
    expect(stepSpot(whole, 0, 'ArrowRight')).toBe(1)
    expect(stepSpot(whole, 2, 'ArrowRight')).toBe(2)
    expect(stepSpot(whole, 1, 'ArrowLeft')).toBe(0)
  })
})

describe('what the server sends', () => {
  const sent = {
    ...sitting(),
    exposures: [
      {
        id: 'scratch', name: 'Scratch', short_name: 'Scratch', kind: 'liquid' as const, choice: 'preferred',
        prompts: [{ response: 'grade', view: 'glancing' }, { response: 'gloss-60', view: '' }],
      },
    ],
    panels: [
      {
        ...sitting([]).panels[0]!,
        spots: [
          {
            exposure: 'scratch', kind: 'strip' as const, place: 0, side: 'front' as const, x_mm: 1, y_mm: 1, diameter_mm: 0,
            along_mm: 9, across_mm: 2, values: [4, null], are_beyond: [false, false], singles: [[], []], worked_out: [], note: 'faint',
            choices: [{ against: 'T2', is_swapped: false, value: 0.5 }],
          },
        ],
      },
    ],
  } // prettier-ignore
  it('that an earlier release kept has no instruments and nothing worked out', () => {
    const kept = structuredClone(sent) as unknown as Record<string, unknown>
    delete kept.instruments
    for (const panel of kept.panels as { spots: Record<string, unknown>[] }[])
      for (const each of panel.spots) {
        delete each.singles
        delete each.worked_out
      }
    const shown = laidOut(kept as unknown as typeof sent)
    expect(shown.instruments).toEqual([])
    expect(shown.panels[0]?.spots[0]?.worked_out).toEqual([])
    expect(shown.panels[0]?.spots[0]?.asks[0]?.singles).toEqual([])
  })
  it('is laid out as values to give: those of the prompts, then the choices; the note is the first one’s', () => {
    expect(laidOut(sent).panels[0]?.spots[0]?.asks).toEqual([
      ask(4, { view: 'glancing', singles: [], note: 'faint' }),
      ask(null, { response: 'gloss-60', singles: [] }),
      ask(0.5, { response: 'preferred', against: 'T2', isSwapped: false }),
    ])
  })
})

describe('what is measured at once', () => {
  const asks = [
    ask(null, { response: 'colour-l' }),
    ask(null, { response: 'colour-a' }),
    ask(null, { response: 'colour-b' }),
    ask(null, { response: 'gloss-60', view: 'along' }),
    ask(null, { response: 'gloss-60', view: 'across' }),
    ask(null, { response: 'soak-in' }),
    ask(null, {}),
  ]
  it('is what one instrument gives from one view, and nothing of a scale', () => {
    const here = { ...spot('wine', 0, 0), asks }
    expect([0, 1, 2, 3, 4, 5, 6].map((n) => measuredWith(here, n))).toEqual([
      [0, 1, 2],
      [0, 1, 2],
      [0, 1, 2],
      [3],
      [4],
      [5],
      [],
    ])
  })
})

describe('the same from another view', () => {
  it('is offered once the view before was read, and of no measure and no choice', () => {
    const here = {
      ...spot('wine', 0, 0),
      asks: [
        ask(4, { view: 'square-on' }),
        ask(null, { view: 'glancing' }),
        ask(null, { response: 'change-kinds', view: 'square-on' }),
        ask(null, { response: 'change-kinds', view: 'glancing' }),
        ask(12, { response: 'gloss-60', view: 'along' }),
        ask(null, { response: 'gloss-60', view: 'across' }),
        ask(null, { response: 'preferred', against: 'T2' }),
      ],
    }
    expect([0, 1, 2, 3, 5, 6].map((n) => sameAsBefore(here, n))).toEqual([
      null,
      { value: 4, view: 'square-on' },
      null,
      null,
      null,
      null,
    ])
  })
})

describe('entries over a sitting', () => {
  it('lays what the server may not have yet over what it sent', () => {
    const shown = withEntries(sitting([spot('wine', 0, 0, 5)]), [
      entry({ value: 2 }),
      entry({ kind: 'note', value: undefined, note: 'ring' }),
      entry({ trial_id: 8, value: 1 }),
      entry({ look: 'lifted', value: 1 }),
      entry({ panel: 'gone', value: 1 }),
    ])
    expect(findAsk(shown, { panel: 'K0', exposure: 'wine' })).toMatchObject({ value: 2, note: 'ring' })
  })
  it('takes what the last release left waiting, which has a grade and no response', () => {
    const shown = withEntries(sitting([spot('wine', 0, 0)]), [entry({ value: undefined, grade: 4 })])
    expect(findAsk(shown, { panel: 'K0', exposure: 'wine' })?.value).toBe(4)
  })
  it('keeps the views of one spot apart', () => {
    const shown = withEntries(sitting([spot('wine', 0, 0, null, null)]), [
      entry({ response: 'grade', view: 'square-on', value: 5 }),
      entry({ response: 'grade', view: 'glancing', value: 3 }),
    ])
    expect(shown.panels[0]!.spots[0]!.asks.map((each) => each.value)).toEqual([5, 3])
  })
  it('keeps the same exposure on two sections apart', () => {
    const onTwo = sitting([spot('wine', 0, 0), { ...spot('wine', 200, 0), place: 2 }])
    const shown = withEntries(onTwo, [entry({ place: 2, value: 4 })])
    expect(shown.panels[0]!.spots.map((found) => found.asks[0]!.value)).toEqual([null, 4])
    expect(shown.panels[0]!.spots.map(spotId)).toEqual(['wine', 'wine/2'])
  })
  it('changes one value of one panel and leaves the first object alone', () => {
    const before = sitting([spot('wine', 0, 0)], [spot('wine', 0, 0)])
    const after = withAsk(before, { panel: 'K1', exposure: 'wine' }, { value: 4, is_beyond: false, note: '' })
    expect(before.panels[1]!.spots[0]!.asks[0]!.value).toBeNull()
    expect(after.panels.map((panel) => panel.spots[0]!.asks[0]!.value)).toEqual([null, 4])
    expect(countRead(after.panels)).toBe(1)
  })
})
