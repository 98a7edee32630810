import { describe, expect, it } from 'vitest'
import { evidenceRows, sortedPairs, speciesName, type TestEvidence } from './evidence/model'
import { EMPTY_DRAFT, fieldsOf, isSame, missingNumber } from './question/model'
import { gateWords, weightsQuery } from './ranking/model'

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
  it('list the pairs told apart first', () => {
    expect(sortedPairs(tests[0]!).map((pair) => pair.b)).toEqual(['C', 'B'])
  })
  it('name the wood', () => {
    expect([speciesName('all'), speciesName('beech')]).toEqual(['All wood', 'Beech'])
  })
})

describe('a trial draft', () => {
  it('says which number is missing', () => {
    expect(missingNumber(EMPTY_DRAFT)).toBeNull()
    expect(missingNumber({ ...EMPTY_DRAFT, margin_mm: null })).toBe('Fill in the margin.')
  })
  it('is sent as it is shown, 0 included', () => {
    expect(fieldsOf({ ...EMPTY_DRAFT, boards_per_species: 0 }).boards_per_species).toBe(0)
  })
  it('knows when it has changed', () => {
    expect(isSame(EMPTY_DRAFT, { ...EMPTY_DRAFT })).toBe(true)
    expect(isSame(EMPTY_DRAFT, { ...EMPTY_DRAFT, species: ['elm'] })).toBe(false)
  })
})

describe('ranking', () => {
  it('sends the weights that were changed, zero included', () => {
    const own = { heat: 25, water: 30, stains: 35 }
    expect(weightsQuery({ heat: 0, water: 30, stains: null }, own)).toBe('heat:0')
    expect(weightsQuery({ ...own }, own)).toBe('')
  })
  it('says what a gate comes to', () => {
    expect([null, 0.95, 0.5, 0.02].map(gateWords)).toEqual(['not tested', 'passes', 'open', 'fails'])
  })
})
