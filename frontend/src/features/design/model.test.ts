import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { TRIAL } from './fixtures'
import { designDraftOf, designFields, drawnSpots, missingMeasure, sidesOf } from './model'
import PowerCurve from './PowerCurve.vue'

describe('a design that is being changed', () => {
  it('says which number is missing, and sends no empty name and no pair of one', () => {
    const draft = designDraftOf(TRIAL)
    expect(missingMeasure(draft)).toBeNull()
    draft.sections = ['waxed ', '']
    draft.pairs = [
      [1, 2],
      [3, 3],
    ]
    draft.block_size = 3
    expect(designFields(draft)).toMatchObject({ sections: ['waxed'], pairs: [[1, 2]], block_size: null })
    draft.arrangement = 'incomplete'
    expect(designFields(draft).block_size).toBe(3)
    draft.kerf_mm = null
    expect(missingMeasure(draft)).toBe('Fill in the kerf.')
  })
  it('draws one face at a time', () => {
    const spot = (exposure: string, side: 'front' | 'back') => ({
      exposure,
      kind: 'spot' as const,
      along_mm: 0,
      across_mm: 0,
      side,
      section: null,
      x_mm: 50,
      y_mm: 40,
      diameter_mm: 40,
    })
    const spots = [spot('wine', 'front'), spot('water', 'back')]
    expect(sidesOf(spots)).toEqual(['front', 'back'])
    expect(sidesOf(spots.slice(0, 1))).toEqual(['front'])
    const names = new Map([['water', 'Water 6 h']])
    expect(drawnSpots(spots, 'back', names).map((found) => found.label)).toEqual(['Water 6 h'])
  })
})

describe('a power curve', () => {
  const curve = [0, 1, 2, 3, 4].map((grade) => [grade, Math.min(1, grade / 2)])
  const reach = (n_boards: number, told_apart: number | null) => ({ n_boards, told_apart, named_pair: 1 })
  const power = {
    here: reach(4, 1.6),
    fewer: reach(3, null),
    more: reach(5, 1.4),
    pooled: null,
    n_boards_worth_knowing: 7,
    curve,
    curve_fewer: curve,
    curve_more: curve,
    sections: null,
    says: [],
  }
  it('says what it shows and marks where eight in ten is', () => {
    const drawn = mount(PowerCurve, { props: { power } })
    expect(drawn.find('svg').attributes('aria-label')).toBe(
      'With 4 boards a difference of 1.6 grades is noticed 8 times in 10.',
    )
    expect(drawn.findAll('.beside')).toHaveLength(2)
    expect(Number(drawn.find('.mark').attributes('cx'))).toBeCloseTo(40 + (1.6 / 4) * 370)
    expect(drawn.text()).toContain('3 boards and 5 boards')
  })
  it('has no mark when nothing is ever noticed', () => {
    const drawn = mount(PowerCurve, { props: { power: { ...power, here: reach(1, null) } } })
    expect(drawn.find('.mark').exists()).toBe(false)
    expect(drawn.find('svg').attributes('aria-label')).toContain('With 1 board no difference is ever noticed')
  })
})
