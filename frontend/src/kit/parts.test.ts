import { labelLines } from './sites'
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import ChoiceBar from './ChoiceBar.vue'
import IntervalBar from './IntervalBar.vue'
import LayerSection from './LayerSection.vue'
import { speciesName } from './species'

describe('the cross-section', () => {
  const drawn = (...layers: [string, 'in' | 'on' | 'top', number][]) =>
    mount(LayerSection, {
      props: { layers: layers.map(([family, seat, coats]) => ({ family, seat, coats })) },
    })

  it('lets oils into the wood and stands films on it', () => {
    const section = drawn(['pure-drying-oil', 'in', 2], ['oil-varnish', 'on', 3], ['wax', 'top', 1])
    expect(section.findAll('.band')).toHaveLength(3)
    expect(section.findAll('.coat')).toHaveLength(2)
    expect(section.findAll('.rim')).toHaveLength(2)
  })
  it('keeps an oil over a film out of the wood', () => {
    expect(drawn(['oil-varnish', 'on', 1], ['pure-drying-oil', 'in', 1]).findAll('.rim')).toHaveLength(2)
  })
  it('marks bare wood', () => {
    expect(drawn().find('.bare').exists()).toBe(true)
  })
})

describe('small parts', () => {
  it('a choice bar shows which stands and says which was chosen', async () => {
    const options = [
      { id: 'lifted', name: 'At lifting' },
      { id: '24h', name: '24 h' },
    ]
    const bar = mount(ChoiceBar, { props: { label: 'Look', options, chosen: '24h' } })
    expect(bar.findAll('button').map((button) => button.attributes('aria-pressed'))).toEqual([
      'false',
      'true',
    ])
    await bar.findAll('button')[0]!.trigger('click')
    expect(bar.emitted('choose')).toEqual([['lifted']])
  })
  it('an interval bar is held at the ends of its axis', () => {
    const bar = mount(IntervalBar, { props: { from: 1, to: 5, mean: 4.9, low: 4.6, high: 5.4 } })
    const span = bar.find('.span').attributes()
    expect(Number(span.x) + Number(span.width)).toBeCloseTo(100)
    expect(
      mount(IntervalBar, { props: { from: 1, to: 5, mean: 3 } })
        .find('.span')
        .exists(),
    ).toBe(false)
  })
  it('name the wood', () => {
    expect([speciesName('all'), speciesName('beech')]).toEqual(['All wood', 'Beech'])
  })
})

describe('the label of a small ring', () => {
  const ring = (label: string, x: number, y = 75) => ({ label, x_mm: x, y_mm: y, diameter_mm: 40 })
  const long = ring('Ethanol 10 min', 100)
  it('is broken before its figure where it would run into its neighbour’s', () => {
    expect(labelLines(long, [long, ring('Wine 1 h', 155)], 1)).toEqual(['Ethanol', '10 min'])
    expect(labelLines(long, [long, ring('Wine 1 h', 155, 20)], 1)).toEqual(['Ethanol 10 min'])
    expect(labelLines(long, [long, ring('Wine 1 h', 180)], 1)).toEqual(['Ethanol 10 min'])
  })
})
