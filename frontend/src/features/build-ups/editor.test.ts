import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { reactive, ref } from 'vue'
import ProductPicker, { productName } from '@/kit/ProductPicker.vue'
import LayerRow from './LayerRow.vue'
import { blankLayer, draftOf, type BuildUpDetail, type RecipeDraft } from './model'
import StackBar from './StackBar.vue'
import { useRecipeSave } from './useRecipeSave'

afterEach(() => vi.unstubAllGlobals())

const BUILD_UP: BuildUpDetail = {
  id: 4,
  name: 'Marrowby Tung',
  is_control: false,
  is_further: false,
  prepared: [],
  version: 1,
  version_id: 7,
  is_frozen: true,
  recipe: {
    preparation: { grits: [120] },
    layers: [{ product: 2, family: 'pure-drying-oil', coats: 4 }],
    final: 'none',
    faces: 'both',
    experiment_reason: '',
  },
  layers: [],
  assessment: null,
}

function rowOf(layer = reactive(blankLayer()), index = 1) {
  const row = mount(LayerRow, {
    props: { modelValue: layer, index, count: 2, families: [], findings: [], needMl: 36.8 },
  })
  return { layer, row }
}

describe('a layer of the stack', () => {
  it('waits for full cure, or for hours that do not vanish while they are typed', async () => {
    const { layer, row } = rowOf()
    await row.find('.over input[type=checkbox]').setValue(false)
    expect(layer.wait_before_h).toBe(24)
    await row.find('#layer-1-wait').trigger('focus')
    await row.find('#layer-1-wait').setValue('')
    expect(layer.wait_before_h).toBe(24)
    await row.find('#layer-1-wait').setValue('6')
    expect(layer.wait_before_h).toBe(6)
    await row.find('.over input[type=checkbox]').setValue(true)
    expect([layer.wait_before_h, row.find('#layer-1-wait').exists()]).toEqual([null, false])
  })
  it('asks the first layer nothing about what lies beneath', () => {
    expect(rowOf(undefined, 0).row.find('.over').exists()).toBe(false)
  })
  it('moves only where there is room, and can be taken out', async () => {
    const { row } = rowOf()
    const named = (name: string) => row.find(`[aria-label="${name}"]`)
    expect(named('Move layer 2 up').attributes('disabled')).toBeDefined()
    await named('Move layer 2 down').trigger('click')
    await named('Remove layer 2').trigger('click')
    expect([row.emitted('move'), row.emitted('remove')]).toEqual([[[-1]], [[]]])
  })
  it('stops when the sheen is even, if it is told to', async () => {
    const { layer, row } = rowOf()
    await row.findAll('.more input[type=checkbox]')[1]!.setValue(true)
    expect(layer.stop_rule).toBe('even-sheen')
  })
})

describe('the head of the stack', () => {
  it('offers a wax only where the finish is waxed', async () => {
    const draft = reactive(draftOf(BUILD_UP))
    const bar = mount(StackBar, { props: { modelValue: draft } })
    expect(bar.findComponent(ProductPicker).exists()).toBe(false)
    draft.final = 'waxed'
    await bar.vm.$nextTick()
    bar.findComponent(ProductPicker).vm.$emit('choose', { product: 9, family: 'wax', name: 'Soft Wax' })
    expect(draft.final_product).toBe(9)
    await bar.find('button').trigger('click')
    expect(bar.emitted('add')).toHaveLength(1)
    await bar.find('input[type=checkbox]').setValue(false)
    expect(draft.faces).toBe('one')
  })
})

describe('choosing a product', () => {
  it('asks the shelf, remembers names, and gives product or family', async () => {
    const rows = [{ id: 12, name: 'Marrowby Tung', maker: 'Marrowby', family: 'pure-drying-oil' }]
    vi.stubGlobal(
      'fetch',
      vi.fn(() => Promise.resolve(Response.json({ n_found: 1, rows }))),
    )
    const families = [{ id: 'wax', name: 'Wax' }] as never
    const picker = mount(ProductPicker, { props: { id: 'x', product: null, families } })
    expect(productName(12)).toBe('Product 12')
    const select = picker.findComponent({ name: 'ElSelect' })
    ;(select.props('remoteMethod') as (text: string) => void)('tung')
    await flushPromises()
    expect(productName(12)).toBe('Marrowby Tung')
    select.vm.$emit('update:modelValue', 'p:12')
    select.vm.$emit('update:modelValue', 'f:wax')
    expect(picker.emitted('choose')).toEqual([
      [{ product: 12, family: 'pure-drying-oil', name: 'Marrowby Tung' }],
      [{ product: null, family: 'wax', name: 'Wax' }],
    ])
  })
})

describe('saving a recipe', () => {
  function saving(answer: unknown, status = 200) {
    vi.stubGlobal(
      'fetch',
      vi.fn(() => Promise.resolve(Response.json(answer, { status }))),
    )
    const draft = ref<RecipeDraft | null>(draftOf(BUILD_UP))
    const sent = vi.fn()
    const saved = vi.fn()
    const kept = { draft, isChanged: ref(true), show: vi.fn(), sent, leave: vi.fn() }
    return {
      draft,
      sent,
      saved,
      ...useRecipeSave({ trialId: () => 1, buildUp: () => BUILD_UP, kept, saved }),
    }
  }

  it('says what became of it', async () => {
    const one = saving({ made_for_shelf: null, view: 'new' })
    await one.save()
    expect(one.saved).toHaveBeenCalledWith('new', 'Marrowby Tung is saved.')
    expect(one.sent).toHaveBeenCalledWith(one.draft.value)
  })
  it('goes back to the frozen version when a new one was made', async () => {
    const one = saving({ made_for_shelf: 2, view: 'same' })
    one.draft.value!.layers[0]!.coats = 9
    await one.save()
    expect(one.saved.mock.calls[0]![1]).toContain('This trial keeps version 1')
    expect(one.sent.mock.calls[0]![0]).toMatchObject({ layers: [{ coats: 4 }] })
  })
  it('keeps the draft when it is refused', async () => {
    const one = saving({ detail: 'Nothing holds on wax but wax.', code: 'blocked_combination' }, 400)
    await one.save()
    expect(one.trouble.value).toBe('Nothing holds on wax but wax.')
    expect([one.sent.mock.calls, one.saved.mock.calls, one.isBusy.value]).toEqual([[], [], false])
  })
  it('asks for what is missing before it sends anything', async () => {
    const one = saving({})
    one.draft.value!.name = ''
    await one.save()
    expect(one.trouble.value).toBe('Give the build-up a name.')
    expect(fetch).not.toHaveBeenCalled()
  })
})
