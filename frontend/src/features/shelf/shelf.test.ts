import { describe, expect, it } from 'vitest'
import {
  draftOf,
  durationWords,
  emptyProduct,
  FIGURES,
  fitContainers,
  matches,
  placeOf,
  readNumbers,
} from './model'

describe('a product draft', () => {
  it('has every figure of the label, and none twice', () => {
    const fields = FIGURES.flatMap((group) => group.fields.map((field) => field.label))
    expect(new Set(fields).size).toBe(fields.length)
    for (const field of fields) expect(emptyProduct().label).toHaveProperty(field, null)
  })
  it('is a copy with nothing left out', () => {
    const product = { name: 'Wax', family: 'wax', label: { cure_d: 3 } }
    const draft = draftOf(product)
    draft.label.cure_d = 9
    expect(product.label.cure_d).toBe(3)
    expect(draft.parts).toEqual([{ name: 'Finish', share: 1 }])
    expect(draft.label.pot_life_min).toBeNull()
  })
  it('has one amount for each part in every container', () => {
    const draft = draftOf({
      name: 'Oil',
      family: 'hardwax-2k',
      parts: [{ name: 'Base' }, { name: 'Hardener' }],
      containers: [{ amounts: [900], price: 1 }],
    })
    fitContainers(draft)
    expect(draft.containers[0]!.amounts).toEqual([900, 0])
  })
})

describe('words of the shelf', () => {
  it('say where a fault stands', () => {
    expect(placeOf({ line: 7, column: 'family', reason: '' })).toBe('Line 7, family')
    expect(placeOf({ line: 7, column: '', reason: '' })).toBe('Line 7')
  })
  it('are found by every word', () => {
    expect(matches('Saloon beech, steamed', 'BEECH sal')).toBe(true)
    expect(matches('Saloon beech, steamed', 'beech oak')).toBe(false)
    expect(matches('anything', '')).toBe(true)
  })
  it('give times', () => {
    expect(durationWords([0, 0.133, 10, 90, 1440])).toBe('at once, 8 s, 10 min, 1.5 h, 24 h')
    expect(readNumbers('10, 60;360  5')).toEqual([10, 60, 360, 5])
    expect(readNumbers('')).toEqual([])
    expect(readNumbers('ten')).toBeNull()
  })
})
