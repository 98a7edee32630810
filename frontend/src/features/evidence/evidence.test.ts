import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import EvidenceMatrix from './EvidenceMatrix.vue'
import IntervalPlot from './IntervalPlot.vue'
import { evidenceRows, groupedRows, sortedPairs, type TestEvidence } from './model'
import PairsTable from './PairsTable.vue'

const TEST: TestEvidence = {
  test: 'wine-1h',
  species: 'all',
  says: '',
  n_panels: 6,
  residual_df: 4,
  system_p: 0.01,
  systems: [
    { system: 'Satin', mean: 4.67, se: 0.2, ci: [4.1, 5.2], letters: 'a', n_panels: 3 },
    { system: 'Tung', mean: 3.33, se: 0.2, ci: [2.8, 3.9], letters: 'ab', n_panels: 3 },
    { system: 'Bare control', mean: 1.33, se: null, ci: null, letters: 'b', n_panels: 3 },
  ],
  pairs: [
    {
      a: 'Bare control',
      b: 'Satin',
      difference: -3.34,
      se: 0.3,
      ci: [-4.4, -2.3],
      p_tukey: 0.0004,
      told_apart: true,
    },
    { a: 'Satin', b: 'Tung', difference: 1.34, se: 0.3, ci: [-0.1, 2.8], p_tukey: 0.061, told_apart: false },
    { a: 'Bare control', b: 'Tung', difference: -2, se: null, ci: null, p_tukey: null, told_apart: null },
  ],
}
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
    const table = mount(PairsTable, { props: { test: TEST, title: 'Wine 1 h' } })
    const rows = table.findAll('tbody tr').map((row) => row.findAll('td').map((cell) => cell.text()))
    expect(rows).toEqual([
      ['Satin', 'Bare control', '3.34', '2.3 to 4.4', '< 0.001', 'yes'],
      ['Tung', 'Bare control', '2.00', '–', '–', 'cannot say'],
      ['Satin', 'Tung', '1.34', '-0.1 to 2.8', '0.061', 'no'],
    ])
  })
})

function test(id: string, means: Record<string, number>): TestEvidence {
  return {
    test: id,
    species: 'all',
    says: '',
    n_panels: 8,
    residual_df: 4,
    system_p: 0.01,
    systems: Object.entries(means).map(([system, mean]) => ({
      system,
      mean,
      se: 0.2,
      ci: [mean - 0.4, mean + 0.4],
      letters: 'a',
      n_panels: 4,
    })),
    pairs: [
      { a: 'A', b: 'B', difference: 0.2, se: 0.2, ci: [-0.4, 0.8], p_tukey: 0.6, told_apart: false },
      { a: 'A', b: 'C', difference: -2, se: 0.2, ci: [-2.6, -1.4], p_tukey: 0.001, told_apart: true },
    ],
  }
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
  it('list the pairs told apart first', () => {
    expect(sortedPairs(tests[0]!).map((pair) => pair.b)).toEqual(['C', 'B'])
  })
})
