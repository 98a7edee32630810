import { flushPromises, mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import golden from '../../../../tests/golden/singles.json'
import { responseOf } from '@/kit/responses'
import AnswerKeys from './AnswerKeys.vue'
import MeasureTable from './MeasureTable.vue'
import { isUnlikely, meanOf, whyNot } from './singles'

describe('single readings', () => {
  it.each(golden.cases)(
    'of $response make what the core makes of them',
    ({ response, singles, value, spread }) => {
      expect(meanOf(singles, responseOf(response).decimals)).toEqual({ value, spread })
    },
  )
  it('that cannot be are refused, and unlikely ones asked about', () => {
    expect(whyNot(101, responseOf('colour-l'))).toContain('cannot be')
    expect(whyNot(99, responseOf('colour-l'))).toBe('')
    expect([99, 50].map((value) => isUnlikely(value, responseOf('colour-l')))).toEqual([true, false])
    expect(isUnlikely(3, responseOf('grade'))).toBe(false)
  })
})

describe('the table of what is measured at once', () => {
  const ask = (response: string, singles: number[] = []) => ({
    response, view: '', against: '', value: null as number | null, is_beyond: false, singles, note: '',
  }) // prettier-ignore
  const colour = ['colour-l', 'colour-a', 'colour-b'].map((each) => ask(each))
  function open(asks = colour, instruments: string[] = []) {
    return mount(MeasureTable, {
      props: { asks, at: 'K7', instruments, isPaused: false },
      attachTo: document.body,
    })
  }
  async function type(table: ReturnType<typeof open>, values: string[]) {
    for (const [n, cell] of table.findAll('input').entries()) if (values[n]) await cell.setValue(values[n])
  }
  beforeEach(() => {
    document.body.innerHTML = ''
    vi.unstubAllGlobals()
  })

  it('keeps means of three, with the readings', async () => {
    const table = open()
    expect(table.findAll('tbody tr')).toHaveLength(3)
    await type(table, ['70', '8', '25', '71', '8.2', '25,2', '72', '8.1', '25.1'])
    expect(table.find('.mean').text()).toContain('71')
    expect(table.find('.spread').text()).toContain('1.00')
    await table.find('form').trigger('submit')
    expect(table.emitted('keep')?.[0]?.[0]).toEqual([
      { value: 71, singles: [70, 71, 72], isBeyond: false },
      { value: 8.1, singles: [8, 8.2, 8.1], isBeyond: false },
      { value: 25.1, singles: [25, 25.2, 25.1], isBeyond: false },
    ])
  })
  it('refuses half a reading, what cannot be and what is no number, and says which', async () => {
    const table = open()
    await type(table, ['70', '8'])
    await table.find('form').trigger('submit')
    expect(table.find('[role=alert]').text()).toBe('Reading 1 has no b*.')
    await type(table, ['70', '8', '250'])
    await table.find('form').trigger('submit')
    expect(table.find('[role=alert]').text()).toContain('Reading 1: b* 250 cannot be')
    await type(table, ['70', 'x', '25'])
    await table.find('form').trigger('submit')
    expect(table.find('[role=alert]').text()).toContain('is no number')
    expect(table.emitted('keep')).toBeUndefined()
  })
  it('asks once about fewer readings than were wanted, and about what is unusual', async () => {
    const table = open()
    await type(table, ['70', '8', '25'])
    await table.find('form').trigger('submit')
    expect(table.find('[role=alert]').text()).toContain('1 of 3 readings')
    await table.find('form').trigger('submit')
    expect(table.emitted('keep')).toHaveLength(1)
    const other = open([ask('weight')])
    await type(other, ['0.5'])
    await other.find('form').trigger('submit')
    expect(other.find('[role=alert]').text()).toContain('unusual')
    await type(other, ['0.6'])
    await other.find('form').trigger('submit')
    expect(other.emitted('keep')).toBeUndefined()
    await other.find('form').trigger('submit')
    expect(other.emitted('keep')).toHaveLength(1)
  })
  it('reads the instrument into the next row by R, from within a box too, and says what it could not', async () => {
    const answers = [
      Response.json({ kind: 'colour', values: { l: 70.1, a: 8, b: 25 }, code: '' }),
      Response.json(
        { code: 'instrument_silent', detail: 'The colour meter did not answer.' },
        { status: 502 },
      ),
    ]
    vi.stubGlobal(
      'fetch',
      vi.fn(async () => answers.shift()),
    )
    const table = open(colour, ['colour'])
    await table.find('input').trigger('keydown', { key: 'r' })
    await flushPromises()
    expect(table.findAll('input').map((cell) => (cell.element as HTMLInputElement).value).slice(0, 4)).toEqual([
      '70.1', '8', '25', '',
    ]) // prettier-ignore
    await table.find('input').trigger('keydown', { key: 'r' })
    await flushPromises()
    expect(table.find('[role=alert]').text()).toContain('did not answer')
  })
  it('has no button for an instrument that the shop has not', () => {
    expect(open().text()).not.toContain('read the')
  })
  it('shows what stands', () => {
    const table = open(colour.map((each, n) => ({ ...each, value: 10 + n, singles: [9 + n, 11 + n] })))
    expect((table.findAll('input')[3]!.element as HTMLInputElement).value).toBe('11')
  })
})

describe('the same again', () => {
  const props = {
    ask: { response: 'grade', view: 'glancing', against: '', value: null, is_beyond: false, note: '' },
    at: 'K7', code: 'K7', isPaused: false, same: { value: 4, view: 'square-on' },
  } // prettier-ignore
  it.each(['=', ' '])('is one key: %j', (key) => {
    const keys = mount(AnswerKeys, { props, attachTo: document.body })
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, repeat: true }))
    expect(keys.emitted('answer')).toEqual([[4, false]])
    keys.unmount()
  })
  it('is no key where nothing was read before', () => {
    const keys = mount(AnswerKeys, { props: { ...props, same: null }, attachTo: document.body })
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '=', bubbles: true }))
    expect(keys.emitted('answer')).toBeUndefined()
    keys.unmount()
  })
})
