import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Schemas } from '@/api/client'
import { useSession } from '@/app/session'
import { useWorkEntries } from '@/app/workEntries'
import { NINE, iso, operation as pass, router, turn } from './fixtures'
import MixRow from './MixRow.vue'
import type { BenchDay, Operation } from './model'
import ReadingField from '@/kit/ReadingField.vue'
import WeighBox from './WeighBox.vue'
import WorkDesk from './WorkDesk.vue'

const DAY: BenchDay = {
  date: '2027-03-02',
  opens_at: iso(0),
  closes_at: iso(480),
  n_operations: 1,
  n_done: 0,
}

/** A two-part coat, mixed for its pass. */
function operation(more: Partial<Operation> = {}): Operation {
  return pass({
    product: 'Fellgate Hardoil 2K',
    cautions: [{ id: 'two-part', says: 'Hardeners irritate.', do: 'Wear gloves.' }],
    amounts: [
      { what: 'Base', amount: 45, quantity: 'millilitres' },
      { what: 'Hardener', amount: 5, quantity: 'millilitres' },
    ],
    cup: { key: '1/0/mixed', is_mixed: true, n_panels: 2, after: [], begun_with: null },
    pot_life_min: 240,
    ...more,
  })
}
const MIX: Schemas['Mix'] = {
  id: 8,
  build_up_id: 3,
  item: 'coat 1',
  cup: '1/0/mixed',
  product: 'Fellgate Hardoil 2K',
  batch: 'FH-1',
  amounts: [],
  pot_life_min: 240,
  made_at: iso(-30),
}

const global = { plugins: [router()] }
let answer: (url: string) => Response

beforeEach(() => {
  localStorage.clear()
  setActivePinia(createPinia())
  answer = () => {
    throw new TypeError('cut')
  }
  vi.stubGlobal(
    'fetch',
    vi.fn(async (request: Request) => answer(request.url)),
  )
  useSession().person = {
    id: 3,
    username: 'nell',
    display_name: 'Nell',
    role: 'owner',
    shop: 'Tarn Yard',
    currency: '€',
    keeps_key: true,
  }
})

function desk(work: Operation, more: Record<string, unknown> = {}) {
  return mount(WorkDesk, {
    global,
    props: {
      operation: work,
      trialId: 1,
      now: NINE,
      zone: 'UTC',
      day: DAY,
      instruments: [],
      mixes: [],
      pours: [],
      applied: [],
      cannotBeHad: [],
      isStarted: true,
      ...more,
    },
  })
}
const sent = () => useWorkEntries().waiting

describe('the work in hand', () => {
  it('shows what to mind and what to take, and says on its one key what comes', async () => {
    const shown = desk(operation())
    expect(shown.find('.cautions').text()).toContain('Hardeners irritate. Wear gloves.')
    expect(shown.find('.mix').text()).toContain('Hardener 5')
    expect(shown.find('.main').text()).toBe('Start K7')
    await shown.setProps({ operation: operation({ turns: [turn('K7', { begun_at: iso(0) }), turn('T2')] }) })
    expect(shown.find('.main').text()).toBe('K7 done, on to T2')
    await shown.setProps({ operation: operation({ turns: [turn('K7', { begun_at: iso(0) })] }) })
    expect(shown.find('.main').text()).toBe('K7 done')
  })
  it('stays when it is done, until the next is asked for', async () => {
    const over = { begun_at: iso(0), ended_at: iso(2) }
    const shown = desk(operation({ turns: [turn('K7', over)] }))
    expect(shown.find('.main').text()).toBe('Next work')
    await shown.find('.main').trigger('click')
    expect(shown.emitted('next')).toHaveLength(1)
    expect(sent()).toEqual([])
  })
  it('says what the bare wood was to be measured for, of the panels that are to be coated now', () => {
    const lacks = (panel: string, by: 'hands' | 'judges', what: string) => ({
      panel, test: 'colour', look: 'bare', by, what,
    }) // prettier-ignore
    const cannotBeHad = [
      lacks('K7', 'hands', 'lightness L*'),
      lacks('T2', 'hands', 'lightness L*'),
      lacks('X9', 'hands', 'lightness L*'),
      lacks('K7', 'judges', 'looks'),
    ]
    const turns = [turn('K7'), turn('T2'), turn('X9', { begun_at: iso(0) })]
    const shown = desk(operation({ turns }), { cannotBeHad })
    const [hands, judges] = shown.findAll('[role=note]')
    expect(hands?.text()).toContain('Not read yet on the bare wood of K7, T2: lightness L*.')
    expect(hands?.find('a').attributes('href')).toBe('/trials/1/read/bare?by=hands')
    expect(judges?.text()).toContain('of K7: looks')
    expect(judges?.find('a').exists()).toBe(false)
    expect(
      desk(operation({ kind: 'abrade', turns }), { cannotBeHad })
        .find('[role=note]')
        .exists(),
    ).toBe(false)
  })
  it('warns before a window opens, and not once it has', async () => {
    const early = turn('K7', { opens_at: iso(90), closes_at: iso(900), aim_at: iso(90) })
    const shown = desk(operation({ turns: [early] }))
    expect(shown.find('[role=note]').text()).toBe(
      'K7 is not ready: its window opens in 1 h 30. Starting now is a deviation.',
    )
    await shown.setProps({ now: NINE + 91 * 60_000 })
    expect(shown.find('[role=note]').exists()).toBe(false)
  })
  it('logs nothing before the trial has started', async () => {
    const shown = desk(operation(), { isStarted: false })
    expect(shown.find('.keys').exists()).toBe(false)
    expect(shown.text()).toContain('nothing can be logged yet')
    shown.vm.goOn()
    shown.vm.finish()
    shown.vm.ask('skip')
    expect(sent()).toEqual([])
  })
  it('keeps the air and the mix with the work', async () => {
    const shown = desk(operation(), { mixes: [MIX] })
    await shown.find('#air-temperature_c').setValue('19.5')
    await shown.find('#air-humidity_pct').setValue('52')
    await shown.find('.main').trigger('click')
    expect(sent()[0]).toMatchObject({
      entry: 'begin',
      panels: ['K7'],
      measured: { temperature_c: 19.5, humidity_pct: 52, mix: 8 },
    })
    expect(shown.emitted('hold')).toHaveLength(1)
  })
  it('adds what is measured after the work began', async () => {
    const shown = desk(operation({ turns: [turn('K7', { begun_at: iso(0) })] }))
    await shown.find('#air-temperature_c').setValue('12')
    await shown.find('#air-temperature_c').trigger('change')
    expect(sent().map((entry) => [entry.entry, entry.measured?.temperature_c])).toEqual([['measure', 12]])
  })
  it('skips only with a reason', async () => {
    const shown = desk(operation())
    shown.vm.ask('skip')
    await flushPromises()
    const form = shown.find('form.reason')
    await form.trigger('submit')
    expect(sent()).toEqual([])
    await form.find('input').setValue('Dropped')
    await form.trigger('submit')
    expect(sent()[0]).toMatchObject({ entry: 'skip', panels: ['K7', 'T2'], reason: 'Dropped' })
    expect(shown.find('form.reason').exists()).toBe(false)
  })
  it('says of the next panel that its sheen is even, at the abrading too, and only where coats go on until it is', async () => {
    const key = (shown: ReturnType<typeof desk>) =>
      shown.findAll('button').find((each) => each.text().includes('is even'))
    expect(key(desk(operation()))).toBeUndefined()
    const shown = desk(
      operation({ kind: 'abrade', item: 'coat 2', until_even: true, turns: [turn('K7'), turn('T2')] }),
    )
    expect(key(shown)?.text()).toBe('K7 is even: no more coats')
    await key(shown)?.trigger('click')
    shown.vm.even()
    expect(sent()).toMatchObject([
      { entry: 'even', kind: 'coat', item: 'coat 2', panels: ['K7'] },
      { entry: 'even', kind: 'coat', item: 'coat 2', panels: ['K7'] },
    ])
  })
  it('asks a hot block’s own temperature and no air', () => {
    const lay = operation({
      kind: 'lay',
      item: 'wet-heat-70',
      is_hot: true,
      amounts: [],
      what: 'Lay wet heat',
    })
    const shown = desk(lay)
    expect(shown.find('#block-block_c').exists()).toBe(true)
    expect(shown.find('#air-temperature_c').exists()).toBe(false)
    expect(shown.find('.mix').exists()).toBe(false)
  })
  it('weighs panel by panel, and has no key for the pass', async () => {
    const weigh = operation({ kind: 'weigh', nth: 2, what: 'Weigh after coat 1', amounts: [] })
    const shown = desk(weigh)
    expect(shown.find('.main').exists()).toBe(false)
    const box = shown.find('#weigh-T2-weight_g')
    await box.setValue('701.5')
    await box.trigger('change')
    expect(sent()[0]).toMatchObject({ kind: 'weigh', nth: 2, panels: ['T2'], measured: { weight_g: 701.5 } })
    // The same weight again is no second entry.
    await box.trigger('change')
    expect(sent()).toHaveLength(1)
  })
})

describe('a mix', () => {
  it('is made once for the passes that share it, and taken up by the next', () => {
    const shared = {
      key: '1/0/mixed',
      is_mixed: true,
      n_panels: 6,
      after: ['Candidate B, coat 1'],
      begun_with: null,
    }
    const first = desk(operation({ cup: shared }))
      .find('.mix')
      .text()
    expect(first).toContain('for 6 panels')
    expect(first).toContain('One mix for this and then Candidate B, coat 1.')
    // Another build-up's coat with the same in the cup: the mix that stands is its own.
    const next = { ...shared, n_panels: 4, after: [], begun_with: 'Candidate A, coat 1' }
    const other = { build_up_id: 77, item: 'coat 2', cup: next }
    const taken = desk(operation(other), { mixes: [MIX] })
      .find('.mix')
      .text()
    expect(taken).toContain('Pot life')
    expect(taken).not.toContain('Planned to come from')
    const gone = desk(operation(other)).find('.mix').text()
    expect(gone).toContain('Planned to come from the mix for Candidate A, coat 1.')
    // What is in another cup is not offered.
    const foreign = desk(operation({ ...other, cup: { ...next, key: '1/10/mixed' } }), { mixes: [MIX] })
    expect(foreign.find('.mix').text()).not.toContain('Pot life')
  })
  const show = (minutes: number) =>
    mount(MixRow, {
      global,
      props: {
        operation: operation(),
        trialId: 1,
        mixes: [MIX],
        now: NINE + minutes * 60_000,
        modelValue: 8,
      },
    })
  it('counts its pot life down, and then says to mix anew', () => {
    expect(show(0).find('[data-pot]').text()).toBe('3 h 30')
    expect(show(209.5).find('[data-pot]').text()).toBe('0:30')
    expect(show(215).find('.late').text()).toBe('Pot life over for 5:00: mix anew')
  })
  it('is written down on the server, which has the time', async () => {
    answer = () => Response.json({ ...MIX, id: 9 }, { status: 201 })
    const row = mount(MixRow, {
      global,
      props: { operation: operation(), trialId: 1, mixes: [], now: NINE, modelValue: null },
    })
    expect(row.find('button').text()).toBe('Mixed now')
    await row.find('button').trigger('click')
    await flushPromises()
    expect(row.emitted('update:modelValue')).toEqual([[9]])
    expect(row.emitted('mixed')).toHaveLength(1)
  })
  it('says why it could not be', async () => {
    const row = show(0)
    await row.find('button').trigger('click')
    await flushPromises()
    expect(row.find('[role=alert]').text()).toContain('No answer from the server')
  })
})

describe('a pour', () => {
  const POUR: Schemas['Pour'] = {
    id: 4,
    agent: 'coffee',
    batch: 'pot 2',
    made_at: iso(-10),
    made_by: 'Nell Arkwright-Osei',
  }
  const laying = operation({
    kind: 'lay',
    item: 'coffee-1h',
    agent: 'coffee',
    build_up_id: null,
    build_up: '',
    board: 'Beech 2',
    product: '',
    cup: null,
  })

  it('belongs to the board’s sitting: the newest of its agent is taken, and named with what is laid', async () => {
    const shown = desk(laying, { pours: [POUR, { ...POUR, id: 5, agent: 'red-wine' }] })
    expect(shown.text()).toContain('Beech 2')
    expect(shown.find('.pour').text()).toContain('From pot 2, made 8:50 by Nell')
    await shown.find('.main').trigger('click')
    expect(sent()[0]).toMatchObject({ kind: 'lay', item: 'coffee-1h', measured: { pour: 4 } })
  })
  it('is asked for where none is written down, and not taken from the day before', async () => {
    const shown = desk(laying, { pours: [{ ...POUR, made_at: iso(-24 * 60) }] })
    expect(shown.find('.pour').text()).toContain('No pour is written down yet')
    answer = () => Response.json({ ...POUR, id: 9 }, { status: 201 })
    await shown.find('#pour-batch').setValue('pot 3')
    await shown.find('.pour').trigger('submit')
    await flushPromises()
    expect(shown.emitted('mixed')).toHaveLength(1)
  })
  it('is not asked for by a coat, a lift or a look', () => {
    for (const kind of ['lift', 'look'] as const)
      expect(
        desk({ ...laying, kind, agent: '' })
          .find('.pour')
          .exists(),
      ).toBe(false)
  })
})

describe('what is read', () => {
  const FIELDS = [{ name: 'temperature_c', label: 'Air', quantity: 'celsius', from: 'c' }]
  it('comes from the instrument, or is told and typed', async () => {
    const field = mount(ReadingField, {
      props: { id: 'air', instrument: 'climate', fields: FIELDS, isThere: true, modelValue: {} },
    })
    answer = () => Response.json({ kind: 'climate', values: { c: 20.4, rh: 51 }, code: '' })
    await field.find('button').trigger('click')
    await flushPromises()
    expect(field.emitted('update:modelValue')).toEqual([[{ temperature_c: 20.4 }]])
    expect(field.emitted('read')).toHaveLength(1)
    const says = 'The thermo-hygrometer fell silent in the middle of its answer.'
    answer = () =>
      Response.json({ status: 400, code: 'instrument_silent', detail: says, field: null }, { status: 400 })
    await field.find('button').trigger('click')
    await flushPromises()
    expect(field.find('[role=alert]').text()).toBe(says)
    await field.find('input').setValue('19')
    expect(field.emitted('update:modelValue')?.at(-1)).toEqual([{ temperature_c: 19 }])
  })
  it('has no button where no instrument is', () => {
    const field = mount(ReadingField, {
      props: { id: 'air', instrument: 'climate', fields: FIELDS, isThere: false, modelValue: {} },
    })
    expect(field.find('button').exists()).toBe(false)
  })
  it('takes over what another device weighed, and not what is typed here', async () => {
    const box = mount(WeighBox, { props: { code: 'K7', saved: null, hasBalance: false } })
    await box.setProps({ saved: 700.25 })
    expect((box.find('input').element as HTMLInputElement).value).toBe('700.25')
    await box.find('input').setValue('701')
    await box.setProps({ saved: 700.25 })
    expect((box.find('input').element as HTMLInputElement).value).toBe('701')
  })
})
