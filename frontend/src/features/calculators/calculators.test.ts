import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import CalculatorAnswer from './CalculatorAnswer.vue'
import CalculatorInputs from './CalculatorInputs.vue'
import {
  blankRow,
  defaultsOf,
  isAsked,
  missingNumber,
  restore,
  type Calculator,
  type CalculatorInput,
} from './model'

const column = (name: string, kind: 'number' | 'text', value: number | string) => ({
  kind,
  name,
  label: name,
  hint: '',
  quantity: kind === 'number' ? 'number' : null,
  default: value,
  low: 0,
  high: 10,
  shown_when: null,
  options: [],
})
const input = (more: Partial<CalculatorInput>): CalculatorInput =>
  ({ ...column('x', 'number', 1), columns: [], fewest: 0, ...more }) as CalculatorInput

const MIX: Calculator = {
  id: 'mix',
  name: 'Mix',
  question: 'How much?',
  formula: 'a',
  source: 'b',
  inputs: [
    input({ kind: 'choice', name: 'by', default: 'volume', options: [{ id: 'volume', name: 'Volume' }] }),
    input({ name: 'total_ml', label: 'Total', default: 60, shown_when: ['by', 'volume'] }),
    input({ name: 'total_g', label: 'Weight', default: 50, shown_when: ['by', 'weight'] }),
    input({
      kind: 'table',
      name: 'parts',
      label: 'Parts',
      fewest: 1,
      default: [{ part: 'Base', share: 9 }],
      columns: [column('part', 'text', ''), column('share', 'number', 1)],
    }),
  ],
}

describe('a calculator', () => {
  it('begins with its defaults, a copy each time', () => {
    const one = defaultsOf(MIX)
    ;(one.parts as { share: number }[])[0]!.share = 3
    expect(defaultsOf(MIX)).toEqual({
      by: 'volume',
      total_ml: 60,
      total_g: 50,
      parts: [{ part: 'Base', share: 9 }],
    })
  })
  it('asks only what the choice asks for', () => {
    const values = defaultsOf(MIX)
    expect(MIX.inputs.filter((one) => isAsked(one, values)).map((one) => one.name)).toEqual([
      'by',
      'total_ml',
      'parts',
    ])
  })
  it('says which number is missing, and not one that is not asked', () => {
    const values = defaultsOf(MIX)
    values.total_g = null
    expect(missingNumber(MIX, values)).toBeNull()
    values.parts = [blankRow(MIX.inputs[3]!), { part: '', share: null }]
    expect(missingNumber(MIX, values)).toBe('Parts, row 2: fill in share.')
    values.total_ml = null
    expect(missingNumber(MIX, values)).toBe('Total: fill in a number.')
  })
  it('takes up what was kept, and nothing that is no longer asked', () => {
    expect(restore(MIX, { total_ml: 7, gone: 1 })).toEqual({ ...defaultsOf(MIX), total_ml: 7 })
  })
})

describe('its form and its answer', () => {
  it('adds rows, and keeps the fewest', async () => {
    const values = defaultsOf(MIX)
    const form = mount(CalculatorInputs, { props: { calculator: MIX, modelValue: values } })
    const buttons = form.findAll('button')
    expect(buttons.find((one) => one.text() === 'Remove')!.attributes('disabled')).toBeDefined()
    await buttons.find((one) => one.text() === 'Add a row')!.trigger('click')
    expect(values.parts).toHaveLength(2)
    expect(form.find('#in-total_g').exists()).toBe(false)
  })
  it('shows the main figure first, words as words, and what cannot be told', () => {
    const answer = {
      figures: [
        { label: 'Mixed', value: 60.5, quantity: 'number', says: '' },
        { label: 'Wait', value: null, quantity: 'hours', says: '' },
      ],
      tables: [
        {
          title: 'Measure out',
          columns: [
            { label: 'Part', quantity: 'words' },
            { label: 'Amount', quantity: 'number' },
          ],
          rows: [['Base', 54]],
        },
      ],
      notes: [[{ text: 'Mind this.', quantity: null, value: null, is_bare: false }]],
    }
    const shown = mount(CalculatorAnswer, { props: { answer, isStale: true } })
    expect(shown.find('.main').text()).toContain('60.5')
    expect(shown.text()).toContain('cannot be told')
    expect(shown.findAll('tbody td').map((cell) => cell.text())).toEqual(['Base', '54'])
    expect(shown.find('.note').text()).toBe('Mind this.')
    expect(shown.find('.answer').classes()).toContain('stale')
  })
})
