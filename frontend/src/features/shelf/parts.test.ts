import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { reactive } from 'vue'
import type { Schemas } from '@/api/client'
import ProductFigures from './ProductFigures.vue'
import ProductIdentity from './ProductIdentity.vue'
import ProductParts from './ProductParts.vue'
import ProductPicker from '@/kit/ProductPicker.vue'
import ShelfFile from './ShelfFile.vue'
import { emptyProduct } from './model'
import { useOwnThings } from './useOwnThings'

afterEach(() => vi.unstubAllGlobals())

const RESULT = { n_good: 2, n_written: 0, faults: [{ line: 3, column: 'family', reason: 'No such family.' }] }

/** Answer every request from a list, and remember what was asked. */
function stubAnswers(...answers: unknown[]): string[] {
  const asked: string[] = []
  vi.stubGlobal(
    'fetch',
    vi.fn((request: Request) => {
      asked.push(request.url)
      const answer = answers.shift()
      return Promise.resolve(
        answer instanceof Error
          ? Response.json({ detail: answer.message, code: 'shelf_unusable' }, { status: 400 })
          : Response.json(answer),
      )
    }),
  )
  return asked
}

async function choose(panel: ReturnType<typeof mount>): Promise<void> {
  const input = panel.find('input[type=file]')
  Object.defineProperty(input.element, 'files', { value: [new File(['x'], 'shelf.csv')], configurable: true })
  await input.trigger('change')
  await flushPromises()
}

describe('a file for the shelf', () => {
  const open = () => mount(ShelfFile, { props: { kind: 'products', noun: 'product' } })

  it('is looked over first; the good rows are kept only when told', async () => {
    const asked = stubAnswers(RESULT, { ...RESULT, n_written: 2 })
    const panel = open()
    await choose(panel)
    expect(asked[0]).toContain('keep=nothing')
    expect(panel.text()).toContain('2 rows are good, 1 is not. Nothing is kept yet.')
    expect(panel.text()).toContain('Line 3, family')
    expect(panel.emitted('written')).toBeUndefined()
    const keep = panel.findAll('button').find((one) => one.text() === 'Keep the 2 good rows')!
    await keep.trigger('click')
    await flushPromises()
    expect(asked[1]).toContain('keep=good')
    expect(panel.text()).toContain('2 products put on the shelf. 1 row was left out.')
    expect(panel.emitted('written')).toHaveLength(1)
  })
  it('without faults is kept whole or not at all', async () => {
    const asked = stubAnswers({ ...RESULT, faults: [] }, { n_good: 2, n_written: 2, faults: [] })
    const panel = open()
    await choose(panel)
    await panel
      .findAll('button')
      .find((one) => one.text() === 'Put all 2 on the shelf')!
      .trigger('click')
    await flushPromises()
    expect(asked[1]).toContain('keep=all')
  })
  it('that cannot be read says why, and nothing was kept', async () => {
    stubAnswers(new Error('The file is not UTF-8.'))
    const panel = open()
    await choose(panel)
    expect(panel.find('[role=alert]').text()).toBe('The file is not UTF-8. Nothing was kept.')
    await panel
      .findAll('button')
      .find((one) => one.text() === 'Keep nothing')!
      .trigger('click')
    expect(panel.find('.import').exists()).toBe(false)
  })
})

describe('the parts of a product', () => {
  it('come and go with their amounts', async () => {
    const draft = reactive(emptyProduct())
    const parts = mount(ProductParts, { props: { modelValue: draft } })
    const press = (words: string) =>
      parts
        .findAll('button')
        .find((one) => one.text() === words)!
        .trigger('click')
    await press('Add a container')
    await press('Mixed from two parts')
    expect(draft.parts.map((part) => part.name)).toEqual(['Base', 'Hardener'])
    expect(draft.containers[0]!.amounts).toEqual([0, 0])
    await parts.find('#box-0-1').setValue('100')
    expect(draft.containers[0]!.amounts).toEqual([0, 100])
    await parts.find('[aria-label="Remove part Base"]').trigger('click')
    expect(draft.parts.map((part) => part.name)).toEqual(['Hardener'])
    expect(draft.containers[0]!.amounts).toEqual([100])
  })
})

describe('a family that is mixed', () => {
  const families = [
    { id: 'hardwax-2k', name: 'Hardwax', two_part: true },
    { id: 'wax', name: 'Wax', two_part: false },
  ] as Schemas['Family'][]
  const global = {
    stubs: { ElSelect: { name: 'ElSelect', template: '<div />' }, ElOption: true, ElInput: true },
  }

  it('begins with its two parts, until they have been worked on', async () => {
    const draft = reactive(emptyProduct())
    const shown = mount(ProductIdentity, { props: { modelValue: draft, families }, global })
    const [family] = shown.findAllComponents({ name: 'ElSelect' })
    const take = (id: string) => family!.vm.$emit('update:modelValue', id)
    take('hardwax-2k')
    expect(draft.parts).toEqual([
      { name: 'Base', share: 9 },
      { name: 'Hardener', share: 1 },
    ])
    take('wax')
    expect(draft.parts).toEqual([{ name: 'Finish', share: 1 }])
    take('hardwax-2k')
    draft.parts[0]!.share = 4
    take('wax')
    expect(draft.parts.map((part) => part.share)).toEqual([4, 1])
  })
})

describe('a product that is typed', () => {
  it('is chosen by Enter, however late the answer to it comes', async () => {
    const rows = [
      { id: 1, name: 'Marrowby Tung', maker: '', family: 'pure-drying-oil' },
      { id: 2, name: 'Skarn Waterborne Satin', maker: '', family: 'waterborne-clear' },
    ]
    vi.stubGlobal(
      'fetch',
      vi.fn(async (request: Request) => {
        const wanted = new URL(request.url).searchParams.get('search') ?? ''
        const found = rows.filter((row) => row.name.toLowerCase().includes(wanted))
        return new Response(JSON.stringify({ rows: found, n_rows: found.length }), {
          headers: { 'Content-Type': 'application/json' },
        })
      }),
    )
    const stub = { template: '<div><input /><slot /></div>', methods: { blur: () => undefined } }
    const picker = mount(ProductPicker, {
      props: { id: 'p', product: null, families: [] },
      global: { stubs: { ElSelect: stub, ElOption: true, ElOptionGroup: true } },
    })
    const input = picker.find('input')
    await input.setValue('Skarn')
    await input.trigger('keydown', { key: 'Enter' })
    await vi.waitFor(() => expect(picker.emitted('choose')).toHaveLength(1))
    expect(picker.emitted('choose')?.[0]?.[0]).toMatchObject({ product: 2, name: 'Skarn Waterborne Satin' })
    // After an arrow key Enter is the list's own; nothing of that name chooses nothing.
    await input.setValue('Marrowby')
    await input.trigger('keydown', { key: 'ArrowDown' })
    await input.trigger('keydown', { key: 'Enter' })
    await input.setValue('nothing of that name')
    await input.trigger('keydown', { key: 'Enter' })
    await flushPromises()
    expect(picker.emitted('choose')).toHaveLength(1)
  })
})

describe('the figures of a label', () => {
  it('show in grey what is usual for the family, and take what the label says', async () => {
    const draft = emptyProduct()
    const usual = {
      spread_first_m2_per_l: 10,
      spread_later_m2_per_l: 20,
      wipe_off_min: [15, 40],
      recoat_h: [12, null],
      cure_d: 25,
      density_g_per_ml: 0.9,
      solids_pct: 100,
    }
    const figures = mount(ProductFigures, { props: { modelValue: draft, family: { usual } as never } })
    const placeholder = (id: string) => figures.find(id).attributes('placeholder')
    expect(placeholder('#label-wipe_off_to_min')).toBe('usual 40')
    expect(placeholder('#label-recoat_to_h')).toBeUndefined()
    expect(placeholder('#label-pot_life_min')).toBeUndefined()
    await figures.find('#label-cure_d').setValue('21')
    await figures.find('#found-cure_d').setValue('30')
    expect([draft.label.cure_d, draft.found.cure_d]).toEqual([21, 30])
  })
})

describe('woods and agents', () => {
  const rows = [
    { id: 'elm', item_id: null, is_archived: false },
    { id: 'bog-elm', item_id: 3, is_archived: false },
    { id: 'old-elm', item_id: 4, is_archived: true },
  ]
  it('are found by words, the archive apart; a refusal stays in sight', async () => {
    const things = useOwnThings({ list: () => Promise.resolve(rows), wordsOf: (row) => row.id })
    await flushPromises()
    expect(things.shown.value.map((row) => row.id)).toEqual(['elm', 'bog-elm'])
    things.search.value = 'bog'
    expect(things.shown.value.map((row) => row.id)).toEqual(['bog-elm'])
    things.search.value = ''
    things.isArchived.value = true
    expect(things.shown.value.map((row) => row.id)).toEqual(['old-elm'])
    expect(await things.attempt(() => Promise.reject(new Error('The name is taken.')))).toBe(false)
    expect(things.trouble.value).toBe('The name is taken.')
    expect(await things.attempt(() => Promise.resolve())).toBe(true)
    expect(things.trouble.value).toBe('')
  })
})
