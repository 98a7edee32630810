import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { gradeText, markFill, markRadius, RING_RADIUS } from './grades'
import PanelDrawing from './PanelDrawing.vue'
import { keyWords, nameWithin } from './responses'
import { percentText, place, pText, signedText } from './scale'
import { tieBars } from './ties'
import { grainPaths } from './wood'

describe('the mark in the ring', () => {
  it('grows in area as the grade falls, by equal steps', () => {
    const areas = [5, 4, 3, 2, 1].map((grade) => markRadius(grade) ** 2)
    expect(areas[0]).toBe(0)
    const steps = areas.slice(1).map((area, index) => area - areas[index]!)
    for (const step of steps) expect(step).toBeCloseTo(steps[0]!, 6)
    expect(markRadius(1)).toBeLessThan(RING_RADIUS)
  })
  it('names a response within a sentence and leaves its sign as it is', () => {
    expect(keyWords('light/delta-e00', new Map([['light', 'Light']]))).toBe('Light, colour change ΔE00')
    expect(nameWithin('colour-l')).toBe('lightness L*')
  })
  it('gives a difference its sign, and none to what rounds to nothing', () => {
    expect([0.34, -0.34, 0, -0.04, 0.04].map((each) => signedText(each, 1))).toEqual([
      '+0.3',
      '-0.3',
      '0.0',
      '0.0',
      '0.0',
    ])
  })
  it('holds means and strays to the scale', () => {
    expect(markRadius(7)).toBe(0)
    expect(markFill(3.4)).toBe('var(--grade-3)')
    expect(markFill(0)).toBe('var(--grade-1)')
    expect([gradeText(4), gradeText(2.5)]).toEqual(['4', '2.5'])
  })
})

describe('scales and words', () => {
  it('places values on an axis and holds them at its ends', () => {
    expect([place(1, 1, 5), place(3, 1, 5), place(9, 1, 5)]).toEqual([0, 50, 100])
  })
  it('never claims certainty from draws', () => {
    expect([0, 0.004, 0.5, 0.999, 1].map(percentText)).toEqual(['< 1 %', '< 1 %', '50 %', '> 99 %', '> 99 %'])
    expect([pText(null), pText(0.00001), pText(0.0412)]).toEqual(['–', '< 0.001', '0.041'])
  })
})

describe('tie bars', () => {
  it('draws a bar for each shared letter and none for a lone one', () => {
    expect(tieBars(['a', 'ab', 'b', 'c'])).toEqual([
      { letter: 'a', rows: [0, 1], first: 0, last: 1 },
      { letter: 'b', rows: [1, 2], first: 1, last: 2 },
    ])
  })
  it('reaches past a row that does not belong', () => {
    expect(tieBars(['a', 'b', 'a'])).toEqual([{ letter: 'a', rows: [0, 2], first: 0, last: 2 }])
  })
  it('knows letters past the alphabet', () => {
    expect(tieBars(["a'", "a'z", 'z']).map((tie) => tie.letter)).toEqual(["a'", 'z'])
  })
})

describe('wood', () => {
  it('keeps its figure for a seed', () => {
    expect(grainPaths('K7', 400, 150)).toEqual(grainPaths('K7', 400, 150))
    expect(grainPaths('K7', 400, 150)).not.toEqual(grainPaths('R4', 400, 150))
  })
})

describe('a panel', () => {
  const spots = [
    { exposure: 'wine', x_mm: 50, y_mm: 40, diameter_mm: 40, label: 'Wine 1 h', grade: 3, note: 'ring' },
    { exposure: 'water', x_mm: 120, y_mm: 40, diameter_mm: 40, label: 'Water 6 h', grade: null },
  ]
  const panel = mount(PanelDrawing, {
    props: { code: 'K7', species: 'beech', lengthMm: 400, widthMm: 150, spots, selected: 'water' },
  })

  it('stands its origin at the lower left', () => {
    expect(panel.find('[data-exposure=wine]').attributes('transform')).toBe('translate(50 110)')
  })
  it('tells each spot by name, grade and note', () => {
    expect(panel.find('[data-exposure=wine]').attributes('aria-label')).toBe('Wine 1 h 3, with a note')
    expect(panel.find('[data-exposure=water]').attributes('aria-label')).toBe('Water 6 h, not graded')
    expect(panel.find('[data-exposure=water]').attributes('aria-pressed')).toBe('true')
  })
  it('says which spot was picked', async () => {
    await panel.find('[data-exposure=wine]').trigger('click')
    expect(panel.emitted('pick')).toEqual([['wine']])
  })
})
