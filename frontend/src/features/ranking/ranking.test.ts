import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { gateWords, weightsQuery, type Ranking } from './model'
import RankingRows from './RankingRows.vue'

const NAMES = new Map([['wine-1h', 'Wine 1 h']])

describe('the ranking', () => {
  const row = (system: string, inTie: boolean, probability: number | null): Ranking['systems'][number] => ({
    system,
    score: 82.4,
    score_low: 74,
    score_high: 91,
    p_best: inTie ? 0.6 : 0,
    p_top_three: 1,
    expected_rank: 1.4,
    p_passes: 0.97,
    p_beaten_by_leader: inTie ? 0 : 1,
    in_tie_group: inTie,
    gates: [{ test: 'wine-1h', threshold: 4, probability }],
    criteria: [],
  })
  const ranking: Ranking = {
    profile: {
      id: 'dining-table',
      name: 'Dining table',
      says: '',
      criteria: [],
      gates: [{ test: 'wine-1h', threshold: 4 }],
    },
    systems: [row('Satin', true, 0.97), row('Tung', false, 0.02), row('Oil', false, null)],
    p_none_passes: 0,
    n_draws: 10000,
    species: 'all',
    species_choices: ['all'],
    section: '',
    section_choices: [],
    look: '24h',
    is_simulated: false,
    says: [],
  }
  const rows = mount(RankingRows, { props: { ranking, names: NAMES } })

  it('says what each gate comes to, and claims no certainty', () => {
    expect(rows.findAll('tbody .gate').map((cell) => cell.text())).toEqual([
      'passes97 %',
      'fails2 %',
      'not tested',
    ])
    expect(rows.findAll('tbody tr').map((line) => line.findAll('td.figure')[0]!.text())).toEqual([
      '60 %',
      '< 1 %',
      '< 1 %',
    ])
  })
  it('tells the tie group in words as well as by the bar', () => {
    expect(rows.findAll('td.tie').map((cell) => cell.text())).toEqual([
      'not told apart from the leader',
      'behind',
      'behind',
    ])
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
