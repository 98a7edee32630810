import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { csvText } from '@/kit/save'
import { axisOf } from './axis'
import CrossGrid from './CrossGrid.vue'
import { crossingOf } from './crossing'
import EvidenceMatrix from './EvidenceMatrix.vue'
import IntervalPlot from './IntervalPlot.vue'
import JudgesBox from './JudgesBox.vue'
import { evidenceRows, groupedRows, sortedPairs, type PairEvidence, type TestEvidence } from './model'
import OtherwiseBox from './OtherwiseBox.vue'
import PairsTable from './PairsTable.vue'
import { told } from './told'

type Row = TestEvidence['systems'][number]

function row(system: string, mean: number | null, more: Partial<Row> = {}): Row {
  return { system, mean, se: null, ci: null, letters: '', n_panels: 3, steps: [], time: null, ...more }
}
function pair(a: string, b: string, more: Partial<PairEvidence>): PairEvidence {
  return {
    a, b, difference: 0, se: null, ci: null, p_tukey: null, told_apart: null, p_permutation: null, is_exact: false,
    verdict: 'open', disagrees: false, at: '', ...more,
  } // prettier-ignore
}
function evidence(more: Partial<TestEvidence>): TestEvidence {
  return {
    test: 'wine-1h', species: 'all', says: '', n_panels: 6, residual_df: 4, system_p: 0.01, systems: [], pairs: [], values: [],
    school: 'means', told_as: 'difference', effects: [], friedman: null, sections: null, margins: [], ladder: null, odd: null, section: '',
    worth: 1, alpha: 0.05, ...more,
  } // prettier-ignore
}

const TEST = evidence({
  systems: [
    row('Satin', 4.67, { se: 0.2, ci: [4.1, 5.2], letters: 'a' }),
    row('Tung', 3.33, { se: 0.2, ci: [2.8, 3.9], letters: 'ab' }),
    row('Bare control', 1.33, { letters: 'b' }),
  ],
  pairs: [
    pair('Bare control', 'Satin', {
      difference: -3.34, ci: [-4.4, -2.3], p_tukey: 0.0004, p_permutation: 0.002, told_apart: true, verdict: 'told apart',
    }), // prettier-ignore
    pair('Satin', 'Tung', { difference: 1.34, ci: [-0.1, 2.8], p_tukey: 0.061, told_apart: false }),
    pair('Bare control', 'Tung', { difference: -2 }),
  ],
  values: [
    { panel: 'K7', system: 'Satin', board: 'b1', species: null, value: 5, section: '' },
    { panel: 'H2', system: 'Tung', board: 'b1', species: null, value: 3, section: '' },
    { panel: 'M4', system: 'Satin', board: 'b2', species: null, value: 4.3, section: '' },
  ],
})
const NAMES = new Map([['wine-1h', 'Wine 1 h']])

describe('the evidence matrix', () => {
  const matrix = mount(EvidenceMatrix, {
    props: {
      response: 'grade',
      rows: evidenceRows([TEST], 'wine-1h', 'Bare control'),
      tests: [TEST],
      names: NAMES,
      chosen: 'wine-1h',
      behind: null,
    },
  })

  it('says each mean and its interval in words', () => {
    expect(matrix.findAll('.cell').map((cell) => cell.attributes('aria-label'))).toEqual([
      'Satin, Wine 1 h: mean 4.7, interval 4.1 to 5.2. Show the readings.',
      'Tung, Wine 1 h: mean 3.3, interval 2.8 to 3.9. Show the readings.',
      'Bare control, Wine 1 h: mean 1.3, no interval. Show the readings.',
    ])
  })
  it('joins what is not told apart by bars', () => {
    const on = matrix.findAll('tbody tr').map((row) => row.findAll('.tie').map((tie) => tie.classes('on')))
    expect(on).toEqual([
      [true, false],
      [true, true],
      [false, true],
    ])
  })
  it('opens the readings behind a point', async () => {
    await matrix.findAll('.cell')[1]!.trigger('click')
    expect(matrix.emitted('open')).toEqual([['wine-1h', 'Tung']])
  })
})

describe('the interval plot and the pairs', () => {
  it('draws no interval where there is none', () => {
    const plot = mount(IntervalPlot, {
      props: { test: TEST, response: 'grade', title: 'Wine 1 h', behind: 'Tung' },
    })
    expect(plot.findAll('.point').map((point) => point.find('.interval').exists())).toEqual([
      true,
      true,
      false,
    ])
    expect(plot.findAll('.open')).toHaveLength(1)
  })
  it('opens a point by key too', async () => {
    const plot = mount(IntervalPlot, {
      props: { test: TEST, response: 'grade', title: 'Wine 1 h', behind: null },
    })
    await plot.findAll('.point')[2]!.trigger('keydown', { key: 'Enter' })
    expect(plot.emitted('open')).toEqual([['Bare control']])
  })
  it('puts the better build-up first and turns its interval with it', () => {
    const table = mount(PairsTable, { props: { test: TEST, response: 'grade', title: 'Wine 1 h' } })
    const rows = table.findAll('tbody tr').map((row) => row.findAll('td').map((cell) => cell.text()))
    expect(rows).toEqual([
      ['Satin over Bare control', 'told apart', '3.34', '2.3 to 4.4', '< 0.001', '0.002'],
      ['Tung over Bare control', 'cannot say', '2.00', '–', '–', '–'],
      ['Satin over Tung', 'open', '1.34', '-0.1 to 2.8', '0.061', '–'],
    ])
  })
  it('draws a dot for each panel and joins those of a board', () => {
    const plot = mount(IntervalPlot, {
      props: { test: TEST, response: 'grade', title: 'Wine 1 h', behind: null },
    })
    expect(plot.findAll('.dot')).toHaveLength(3)
    expect(plot.findAll('.join')).toHaveLength(2)
    expect(plot.find('.dot title').text()).toBe('K7, board b1: 5.00')
  })
  it('says where two tests disagree, and turns a ratio below one', () => {
    const torn = evidence({
      told_as: 'ratio',
      pairs: [
        pair('A', 'B', {
          difference: 0.5,
          ci: [0.25, 0.8],
          told_apart: false,
          disagrees: true,
          p_tukey: 0.04,
        }),
      ],
    })
    const table = mount(PairsTable, { props: { test: torn, response: 'uptake', title: 'Uptake' } })
    expect(table.findAll('td').map((cell) => cell.text())).toEqual([
      'A over B', 'open: the two tests disagree', '× 2.00', '1.3 to 4.0', '0.040', '–',
    ]) // prettier-ignore
  })
})

describe('what a build-up came to, in words', () => {
  const ordered = evidence({ told_as: 'rank' })
  it('tells the step that was read most, panels of all, times between looks and chances', () => {
    const steps = [
      { words: 'Smooth', share: 0.8, low: null, high: null },
      { words: 'Just felt', share: 0.2, low: null, high: null },
    ]
    expect(told('touch', ordered, row('A', 0.7, { steps })).text).toBe('smooth 80 %')
    expect(told('peels', evidence({ told_as: 'share' }), row('A', 0.4, { n_panels: 5 })).text).toBe('2 of 5')
    expect(told('preferred', evidence({ told_as: 'preference' }), row('A', 0.62)).text).toBe('62 %')
    const time = { after: 60, by: 240, low: 60, high: null, level: 0.94, n: 5 }
    expect(told('minutes-to-hard', evidence({ told_as: 'time' }), row('A', null, { time })).text).toBe(
      '60 min–4 h',
    )
    const late = { ...time, after: 2880, by: null }
    expect(told('minutes-to-hard', evidence({ told_as: 'time' }), row('A', null, { time: late })).text).toBe(
      'over 2 d',
    )
    expect(told('grade', TEST, TEST.systems[1]!).text).toBe('3.3')
  })
  it('has the axis of shares, and of times what is there', () => {
    expect(axisOf('touch', [ordered])).toMatchObject({ from: 0, to: 1 })
    const time = { after: 60, by: 240, low: 60, high: 480, level: 0.94, n: 5 }
    const axis = axisOf('minutes-to-hard', [
      evidence({ told_as: 'time', systems: [row('A', null, { time })] }),
    ])
    expect([axis.from <= 60, axis.to >= 480]).toEqual([true, true])
  })
})

describe('a crossing', () => {
  const cell = (system: string, section: string, mean: number) => ({
    system, section, mean, se: 0.2, ci: [mean - 0.4, mean + 0.4], n_panels: 4,
  }) // prettier-ignore
  const level = (name: string, mean: number, letters: string) => ({
    factor: 'section', level: name, mean, se: 0.1, ci: [mean - 0.2, mean + 0.2], letters,
  }) // prettier-ignore
  const split = evidence({
    systems: [row('Hardoil', 4.4, { letters: 'a' }), row('Board oil', 2.3, { letters: 'b' })],
    sections: {
      sections: {
        factor: 'section',
        levels: [level('topcoat', 3.6, 'a'), level('nothing', 3.1, 'b')],
        pairs: [pair('nothing', 'topcoat', { verdict: 'told apart', told_apart: true })],
      },
      cells: [
        cell('Board oil', 'nothing', 2.2), cell('Board oil', 'topcoat', 2.4), cell('Hardoil', 'nothing', 4), cell('Hardoil', 'topcoat', 4.8),
      ], // prettier-ignore
      sed: { systems: 0.3, sections: 0.1, sections_within_system: 0.15, systems_within_section: 0.32 },
      within_system: [],
      within_section: [],
      section_residual_df: 12,
      section_residual_ms: 0.1,
      set_aside: [],
    },
    odd: { system: 'Hardoil', section: 'topcoat' },
    effects: [{ effect: 'system:section', stratum: 'section', f: 6.9, df: [1, 12], p: 0.02 }],
  })
  const crossing = crossingOf(split, [], ['nothing', 'topcoat'])!
  it('stands as a grid in the order of the build-ups’ means', () => {
    expect([crossing.rows, crossing.columns]).toEqual([
      ['Hardoil', 'Board oil'],
      ['nothing', 'topcoat'],
    ])
    expect(crossing.cells.map((cells) => cells.map((each) => each?.mean))).toEqual([
      [4, 4.8],
      [2.2, 2.4],
    ])
  })
  it('says that it depends on both, frames what breaks the rule, and compares the columns in words', async () => {
    const grid = mount(CrossGrid, {
      props: { response: 'grade', test: split, crossing, title: 'Wine 1 h', open: null },
    })
    expect(grid.text()).toContain('It depends on both')
    expect(grid.findAll('.odd').map((each) => each.text())).toEqual(['4.8'])
    expect(grid.text()).toContain('told apart from nothing')
    await grid.findAll('.cell')[3]!.trigger('click')
    expect(grid.emitted('open')).toEqual([['Board oil', 'topcoat']])
  })
  it('is of two factors where their crossing is whole, and none where it is not', () => {
    const two = evidence({
      systems: [row('a1', 4), row('a2', 3), row('b1', 2), row('b2', 1), row('Bare', 1)],
      margins: [
        { factor: 'Base', levels: [level('a', 3.5, 'a'), level('b', 1.5, 'b')], pairs: [] },
        { factor: 'Top', levels: [level('1', 3, 'a'), level('2', 2, 'b')], pairs: [] },
      ],
    })
    const levels = (of: (system: string) => string) =>
      ['a1', 'a2', 'b1', 'b2'].map((system) => ({ system, level: of(system) }))
    const factors = [
      { factor: 'Base', levels: ['a', 'b'], systems: levels((system) => system[0] ?? '') },
      { factor: 'Top', levels: ['1', '2'], systems: levels((system) => system[1] ?? '') },
    ]
    expect(crossingOf(two, factors)?.cells.map((cells) => cells.map((each) => each?.system))).toEqual([
      ['a1', 'a2'],
      ['b1', 'b2'],
    ])
    expect(crossingOf(TEST, factors)).toBeNull()
  })

  it('is of three factors with one over the columns and both across below, a hole where a build-up is not there', () => {
    const names = ['a1x', 'a1y', 'a2x', 'a2y', 'b1x', 'b1y', 'b2x', 'c1x', 'c1y', 'c2x', 'c2y']
    const three = evidence({
      systems: names.map((name, at) => row(name, 5 - at / 4)),
      margins: [
        { factor: 'Top', levels: [level('2', 3, 'a'), level('1', 2, 'b')], pairs: [] },
        {
          factor: 'Base',
          levels: [level('a', 3.5, 'a'), level('b', 1.5, 'b'), level('c', 1, 'b')],
          pairs: [],
        },
        { factor: 'Coats', levels: [level('x', 3, 'a'), level('y', 2, 'a')], pairs: [] },
      ],
      effects: [
        { effect: 'Top:Base', stratum: 'panel', f: 1, df: [2, 20], p: 0.4 },
        { effect: 'Base', stratum: 'panel', f: 9, df: [2, 20], p: 0.001 },
        { effect: 'Base:Coats', stratum: 'panel', f: 7, df: [2, 20], p: 0.01 },
      ],
    })
    const factors = ['Base', 'Top', 'Coats'].map((factor, at) => ({
      factor,
      levels:
        [
          ['a', 'b', 'c'],
          ['1', '2'],
          ['x', 'y'],
        ][at] ?? [],
      systems: names.map((system) => ({ system, level: system[at] ?? '' })),
    }))
    const own = crossingOf(three, factors)!
    expect([own.rowFactor, own.columnFactor]).toEqual(['Base', 'Top × Coats'])
    expect([own.over, own.columns]).toEqual([
      [
        { level: '1', span: 2 },
        { level: '2', span: 2 },
      ],
      ['x', 'y', 'x', 'y'],
    ])
    expect(own.cells.map((cells) => cells.map((each) => each?.system ?? '–').join(' '))).toEqual([
      'a1x a1y a2x a2y',
      'b1x b1y b2x –',
      'c1x c1y c2x c2y',
    ])
    const grid = mount(CrossGrid, {
      props: { response: 'grade', test: three, crossing: own, title: 'Wine 1 h', open: null },
    })
    expect(grid.find('button[aria-label^="a, 2, y: 4.3"]').exists()).toBe(true)
    expect(grid.findAll('dl').map((each) => each.find('dt').text())).toEqual([
      'Top, over all',
      'Coats, over all',
    ])
    // What is clear is said, what is not does not stand beside it.
    expect(grid.text()).toContain('It depends on both: what the Coats does is not the same on every Base')
    expect(grid.text()).not.toContain('Top × Base')
  })
})

describe('a test of which sections are weighed one by one', () => {
  const each = ['waxed', 'bare'].map((section, at) =>
    evidence({ section, systems: [row('Satin', 4 - at), row('Tung', 3 + at)] }),
  )

  it('stands once for each, each under its own name', async () => {
    const matrix = mount(EvidenceMatrix, {
      props: {
        response: 'grade', rows: evidenceRows(each, 'wine-1h|bare', 'Bare control'), tests: each, names: NAMES,
        chosen: 'wine-1h|bare', behind: null,
      },
    }) // prettier-ignore
    const heads = matrix.findAll('button.head')
    expect(heads.map((head) => [head.text(), head.attributes('aria-pressed')])).toEqual([
      ['Wine 1 h, waxed', 'false'],
      ['Wine 1 h, bare', 'true'],
    ])
    await heads[0]?.trigger('click')
    expect(matrix.emitted('choose')).toEqual([['wine-1h|waxed']])
  })
})

describe('the judges', () => {
  it('say at once when they agree too little', () => {
    const box = mount(JudgesBox, {
      props: {
        found: {
          judges: ['Nell', 'Imara'], alpha_ordinal: 0.4, icc_2_1: 0.5, n_by_all: 24,
          pairs: [{ a: 'Nell', b: 'Imara', kappa_quadratic: 0.42, n: 24 }],
          leniency: [{ judge: 'Nell', mean_difference: 0.31, n: 24 }],
          repeatability: [{ judge: 'Nell', n: 5, same_share: 0.6, mean_difference: 0, sd: 0.4, kappa_quadratic: 0.7 }],
          views: [],
        },
      },
    }) // prettier-ignore
    expect(box.text()).toContain('the scoring, not the finish, is the weak point')
    expect(box.text()).toContain('Nell reads +0.31 against the others')
    expect(box.text()).toContain('60 % alike of 5 that came round again')
  })
})

describe('what was left out', () => {
  it('is told with the other result beside', () => {
    const box = mount(OtherwiseBox, {
      props: {
        leftOut: [{ why: 'left out by hand', n_rows: 3 }],
        trouble: '',
        names: NAMES,
        response: 'grade',
        found: {
          left_out: [{ why: 'left out by hand', n_rows: 3 }],
          means: [{ test: 'wine-1h', section: null, system: 'Tung', mean: 3.4, otherwise: 2.9 }],
          pairs: [
            {
              test: 'wine-1h',
              section: null,
              a: 'Satin',
              b: 'Tung',
              verdict: 'open',
              otherwise: 'told apart',
            },
          ],
        },
      },
    })
    expect(box.text()).toContain('3 readings left out by hand')
    expect(box.text()).toContain('Satin and Tung would be told apart, and are open')
    expect(box.text()).toContain('Tung would have 2.9, and has 3.4')
  })
})

describe('files made in the browser', () => {
  it('guard what a spreadsheet would run and quote what would break a row', () => {
    expect(
      csvText(
        ['a', 'b'],
        [
          ['=1+1', 'x,y'],
          [-1.5, null],
        ],
      ),
    ).toBe('a,b\n\'=1+1,"x,y"\n-1.5,\n')
  })
})

function test(id: string, means: Record<string, number>): TestEvidence {
  return evidence({
    test: id,
    systems: Object.entries(means).map(([system, mean]) =>
      row(system, mean, { ci: [mean - 0.4, mean + 0.4], letters: 'a', n_panels: 4 }),
    ),
    pairs: [
      pair('A', 'B', { difference: 0.2, p_tukey: 0.6, told_apart: false, verdict: 'alike' }),
      pair('A', 'D', { difference: 0.4, p_tukey: 0.4, told_apart: false }),
      pair('A', 'C', { difference: -2, p_tukey: 0.001, told_apart: true, verdict: 'told apart' }),
    ],
  })
}

describe('evidence rows', () => {
  const tests = [test('water', { A: 4.5, B: 3 }), test('wine', { B: 4, A: 2, C: 1 })]

  it('follow the chosen test, best first, and leave gaps where a build-up has no value', () => {
    const rows = evidenceRows(tests, 'wine', 'C')
    expect(rows.map((row) => row.system)).toEqual(['B', 'A', 'C'])
    expect(rows[2]).toMatchObject({ isControl: true, cells: [null, { mean: 1 }] })
    expect(evidenceRows(tests, 'water', 'C').map((row) => row.system)).toEqual(['A', 'B', 'C'])
  })
  it('stand together by the levels of a factor, what has none last, each group in the order of its means', () => {
    const rows = evidenceRows(tests, 'wine', 'C')
    const factor = {
      factor: 'Top layer',
      levels: ['nothing', 'wax'],
      systems: [
        { system: 'A', level: 'nothing' },
        { system: 'B', level: 'wax' },
      ],
    }
    const grouped = groupedRows(rows, factor).map((row) => [row.heading, row.system])
    expect(grouped).toEqual([
      ['nothing', 'A'],
      ['wax', 'B'],
      ['Beside them', 'C'],
    ])
    expect(groupedRows(rows, undefined)).toEqual(rows)
  })
  it('list the pairs told apart first, then what is open', () => {
    expect(sortedPairs(tests[0]!.pairs).map((each) => each.b)).toEqual(['C', 'D', 'B'])
  })
})
