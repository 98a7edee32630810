import { mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import { nextTick } from 'vue'
import { readProblem } from '@/api/client'
import QuantityInput from './QuantityInput.vue'
import { ruleTicks } from './scale'
import { finishTint, stackBands } from './section'
import {
  figureOf,
  quantityOf,
  readNumber,
  said,
  setCurrency,
  setUnits,
  signOf,
  toMetric,
  toScreen,
  unitSystem,
} from './units'

const UNITS = [
  ['number', '', '', 1, 0],
  ['count', '', '', 1, 0],
  ['price', '', '', 1, 0],
  ['minutes', 'min', 'min', 1, 0],
  ['millilitres', 'mL', 'fl oz', 0.033814022701843, 0],
  ['millimetres', 'mm', 'in', 0.03937007874015748, 0],
  ['celsius', '°C', '°F', 1.8, 32],
  ['spread_m2_per_l', 'm²/L', 'ft²/gal', 40.74583333333333, 0],
  ['square_metres', 'm²', 'ft²', 10.763910416709722, 0],
  ['grams', 'g', 'oz', 0.03527396194958041, 0],
] as const

beforeEach(() => {
  unitSystem.value = 'metric'
  setUnits(UNITS.map(([quantity, metric, us, factor, offset]) => ({ quantity, metric, us, factor, offset })))
})

describe('units', () => {
  it('carry the shop’s currency once there is one', () => {
    setCurrency('€')
    expect(quantityOf('price', 4)).toBe('4.00 €')
    expect(signOf('price_per_l')).toBe('€')
    expect(signOf('millilitres')).toBe('mL')
    setCurrency('')
    expect(quantityOf('price', 4)).toBe('4.00')
  })
  it('show metric as it is kept', () => {
    expect(quantityOf('millilitres', 36.8)).toBe('36.8 mL')
    expect(quantityOf('price', 4)).toBe('4.00')
    expect(quantityOf('count', 3)).toBe('3')
    expect(quantityOf('millilitres', null)).toBe('–')
  })
  it('show about three figures', () => {
    expect([1234.5, 123.4, 12.34, 1.234, 0.1234, 0.001234, 0, 100].map((n) => figureOf('number', n))).toEqual(
      ['1235', '123', '12.3', '1.23', '0.12', '0.0012', '0', '100'],
    )
  })
  it('come back to what was typed, whatever the quantity', () => {
    unitSystem.value = 'us'
    for (const [quantity] of UNITS)
      for (const typed of [0.1, 1 / 3, 7, 17.3, 98.6, 451, 12345.678])
        expect(toScreen(quantity, toMetric(quantity, typed))).toBe(Number(typed.toPrecision(12)))
    expect(toScreen('celsius', 100)).toBe(212)
    expect(quantityOf('millilitres', 29.5735295625)).toBe('1 fl oz')
  })
  it('turn the amounts in a sentence', () => {
    const text = (words: string) => ({ text: words, quantity: null, value: null, is_bare: false })
    const amount = (words: string, quantity: string, value: number, is_bare = false) => ({
      text: words,
      quantity,
      value,
      is_bare,
    })
    const panel = [
      text('a panel of '),
      amount('254', 'millimetres', 254, true),
      text(' × '),
      amount('127 mm', 'millimetres', 127),
      text(' at '),
      amount('20 °C', 'celsius', 20),
      text(' for '),
      amount('10 min', 'minutes', 10),
      text(', 25 mm apart'),
    ]
    expect(said(panel)).toBe('a panel of 254 × 127 mm at 20 °C for 10 min, 25 mm apart')
    unitSystem.value = 'us'
    // What a person wrote is shown as it was written.
    expect(said(panel)).toBe('a panel of 10 × 5 in at 68 °F for 10 min, 25 mm apart')
    setUnits([])
    expect(said(panel)).toBe('a panel of 254 × 127 mm at 20 °C for 10 min, 25 mm apart')
    expect(said([])).toBe('')
  })
  it('put a refusal into the person’s units', async () => {
    unitSystem.value = 'us'
    const refusal = {
      detail: 'It is 25.4 mm.',
      code: 'invalid',
      field: 'margin_mm',
      pieces: [
        { text: 'It is ', quantity: null, value: null, is_bare: false },
        { text: '25.4 mm', quantity: 'millimetres', value: 25.4, is_bare: false },
        { text: '.', quantity: null, value: null, is_bare: false },
      ],
    }
    const problem = await readProblem(Response.json(refusal, { status: 400 }))
    expect([problem.message, problem.field]).toEqual(['It is 1 in.', 'margin_mm'])
    const other = await readProblem(Response.json({ detail: 'By a proxy.' }, { status: 502 }))
    expect(other.message).toBe('By a proxy.')
  })
  it('read a number as it is typed', () => {
    expect(['', ' ', '12', '12,5', ' -3.5 ', '1e2'].map(readNumber)).toEqual([
      null,
      null,
      12,
      12.5,
      -3.5,
      100,
    ])
    expect(readNumber('twelve')).toBeUndefined()
  })
})

describe('a box for a quantity', () => {
  const box = (modelValue: number | null, quantity = 'millilitres') =>
    mount(QuantityInput, { props: { id: 'x', quantity, modelValue } })

  it('gives metric, and null when blank', async () => {
    const one = box(null)
    await one.find('input').setValue('2,5')
    unitSystem.value = 'us'
    await one.find('input').setValue('1')
    await one.find('input').setValue('')
    const sent = one.emitted('update:modelValue')?.map(([value]) => value as number | null)
    expect(sent?.[0]).toBe(2.5)
    expect(sent?.[1]).toBeCloseTo(29.5735295625, 9)
    expect(sent?.[2]).toBeNull()
  })
  it('keeps what is no number, says so, and sends nothing', async () => {
    const one = box(5)
    await one.find('input').setValue('five')
    expect(one.emitted('update:modelValue')).toBeUndefined()
    expect(one.find('input').attributes('aria-invalid')).toBe('true')
    expect(one.find('input').element.value).toBe('five')
    expect(one.find('input').element.validationMessage).toContain('Give a number')
  })
  it('follows the units, short at rest and in full while it is worked on', async () => {
    const one = box(1.5, 'square_metres')
    unitSystem.value = 'us'
    await nextTick()
    expect(one.find('input').element.value).toBe('16.14587')
    expect(one.text()).toBe('ft²')
    await one.find('input').trigger('focus')
    expect(one.find('input').element.value).toBe('16.1458656251')
    await one.find('input').trigger('blur')
    expect(one.emitted('update:modelValue')).toBeUndefined()
  })
  it('stays clear while another number is typed, and is filled again when it is left', async () => {
    const one = box(5)
    await one.find('input').trigger('focus')
    await one.find('input').setValue('')
    // The form that holds it takes blank for 0.
    await one.setProps({ modelValue: 0 })
    expect(one.find('input').element.value).toBe('')
    await one.find('input').trigger('blur')
    expect(one.find('input').element.value).toBe('0')
  })
  it('does not rewrite a number that is half typed', async () => {
    const one = box(5)
    await one.find('input').trigger('focus')
    await one.find('input').setValue('2.')
    await one.setProps({ modelValue: 2 })
    expect(one.find('input').element.value).toBe('2.')
  })
})

describe('drawing', () => {
  it('stacks layers from the wood up', () => {
    const bands = stackBands([
      { family: 'pure-drying-oil', seat: 'in', coats: 2 },
      { family: 'shellac-dewaxed', seat: 'on', coats: 2 },
      { family: 'pure-drying-oil', seat: 'in', coats: 1 },
      { family: 'wax', seat: 'top', coats: 1 },
    ])
    expect(bands.map((band) => band.isInWood)).toEqual([true, false, false, false])
    expect(bands[0]!.bottom).toBeLessThan(0)
    for (const [below, above] of [
      [1, 2],
      [2, 3],
    ] as const)
      expect(bands[above]!.bottom).toBe(bands[below]!.top)
    expect(bands[1]!.coats).toHaveLength(1)
  })
  it('goes deeper with more coats, but never through the wood', () => {
    const depth = (coats: number) => stackBands([{ family: 'x', seat: 'in', coats }])[0]!.bottom
    expect(depth(3)).toBeLessThan(depth(1))
    expect(depth(50)).toBe(depth(8))
  })
  it('has a tint for every family, oils alike', () => {
    expect(finishTint('wax')).not.toBe(finishTint('lacquer'))
    expect(finishTint('pure-drying-oil')).toBe(finishTint('hardwax-2k'))
  })
  it('rules a panel in centimetres or quarter inches', () => {
    const metric = ruleTicks(400, 'metric')
    expect([metric.length, metric.filter((tick) => tick.label).map((tick) => tick.label)]).toEqual([
      41,
      ['0', '100', '200', '300', '400'],
    ])
    const us = ruleTicks(254, 'us')
    expect([us.length, us.filter((tick) => tick.label).map((tick) => tick.label)]).toEqual([
      41,
      ['0', '4', '8'],
    ])
    expect(us.filter((tick) => tick.isLong)).toHaveLength(11)
  })
})
