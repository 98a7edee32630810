import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref } from 'vue'
import { setUnits, unitSystem } from '@/kit/units'
import FindingsList from './FindingsList.vue'
import {
  blankLayer,
  draftOf,
  drawnOf,
  findingsAt,
  freeName,
  handsOn,
  missingIn,
  moveLayer,
  readGrits,
  recipeOf,
  type BuildUpDetail,
  type Finding,
  type RecipeDraft,
} from './model'
import PreparationRow from './PreparationRow.vue'
import ShoppingList from './ShoppingList.vue'
import { useDraftCheck } from './useDraftCheck'

const TUNG: BuildUpDetail = {
  id: 4,
  name: 'Marrowby Tung',
  is_control: false,
  is_further: false,
  prepared: [],
  version: 1,
  version_id: 7,
  is_frozen: false,
  recipe: {
    preparation: { grits: [80, 120] },
    layers: [{ product: 2, family: 'pure-drying-oil', coats: 4 }],
    final: 'none',
    faces: 'both',
    experiment_reason: '',
  },
  layers: [{ name: 'Marrowby Tung', family: 'pure-drying-oil', seat: 'in', coats: 4 }],
  assessment: null,
}
const FAMILIES = new Map(
  (
    [
      ['pure-drying-oil', 'in'],
      ['wax', 'top'],
    ] as const
  ).map(([id, seat]) => [id, { id, seat } as never]),
)
const finding = (severity: Finding['severity'], place: string): Finding => ({
  rule: severity,
  severity,
  place,
  reason: `${severity} reason.`,
  remedy: 'Do this.',
})

beforeEach(() => {
  unitSystem.value = 'metric'
  setUnits([
    { quantity: 'millilitres', metric: 'mL', us: 'fl oz', factor: 0.0338, offset: 0 },
    { quantity: 'grams', metric: 'g', us: 'oz', factor: 0.0353, offset: 0 },
  ])
})
afterEach(() => vi.unstubAllGlobals())

describe('a recipe draft', () => {
  it('goes there and back whole', () => {
    const draft = draftOf(TUNG)
    expect(draft.layers).toEqual([{ ...blankLayer(), product: 2, family: 'pure-drying-oil', coats: 4 }])
    expect(recipeOf(draft)).toMatchObject({ final: 'none', final_product: null, faces: 'both' })
    expect(recipeOf(draft)).not.toHaveProperty('name')
  })
  it('is drawn as far as it is known, a wax on top', () => {
    const draft = draftOf(TUNG)
    draft.layers.push(blankLayer())
    draft.final = 'waxed'
    expect(drawnOf(draft, FAMILIES).map((layer) => layer.seat)).toEqual(['in', 'top'])
  })
  it('says what is missing', () => {
    const draft = draftOf(TUNG)
    expect(missingIn(draft)).toBeNull()
    draft.layers.push(blankLayer())
    expect(missingIn(draft)).toContain('Layer 2: choose the product')
    draft.layers[1]!.family = 'wax'
    draft.layers[1]!.coats = '' as never
    expect(missingIn(draft)).toBe('Layer 2: say how many coats.')
    draft.layers = []
    expect(missingIn(draft)).toContain('Add a layer')
    draft.name = ' '
    expect(missingIn(draft)).toContain('a name')
  })
  it('swaps layers, and leaves the ends alone', () => {
    const layers = ['wax', 'stain'].map((family) => ({ ...blankLayer(), family }))
    moveLayer(layers, 0, 1)
    expect(layers.map((layer) => layer.family)).toEqual(['stain', 'wax'])
    moveLayer(layers, 1, 1)
    expect(layers.map((layer) => layer.family)).toEqual(['stain', 'wax'])
  })
  it('takes a name that is free for a copy', () => {
    expect(freeName('Tung', new Set(['Tung']))).toBe('Tung copy')
    expect(freeName('Tung', new Set(['Tung copy', 'Tung copy 2']))).toBe('Tung copy 3')
  })
  it('reads grits and tells time', () => {
    expect([readGrits('80-120-180'), readGrits('80, 120'), readGrits('')]).toEqual([
      [80, 120, 180],
      [80, 120],
      [],
    ])
    expect(readGrits('80-fine')).toBeNull()
    expect([handsOn(50.4), handsOn(60), handsOn(185)]).toEqual(['50 min', '1 h', '3 h 05'])
  })
})

describe('findings', () => {
  it('stand at their place, each with its word', () => {
    const all = [finding('block', 'layers.1'), finding('warn', 'layers.1'), finding('note', 'preparation')]
    expect(findingsAt(all, 'layers.1')).toHaveLength(2)
    const list = mount(FindingsList, { props: { findings: all } })
    expect(list.findAll('strong').map((word) => word.text())).toEqual([
      'Will not hold.',
      'Take care.',
      'Worth knowing.',
    ])
    expect(list.findAll('svg > *').map((shape) => shape.element.tagName)).toEqual(['path', 'path', 'circle'])
  })
  it('take no room when there are none', () => {
    expect(
      mount(FindingsList, { props: { findings: [] } })
        .find('ul')
        .exists(),
    ).toBe(false)
  })
})

describe('the shopping list', () => {
  const rows = [
    {
      product: 'Hardoil',
      unit: 'volume' as const,
      parts: ['Base', 'Hardener'],
      spread_ml: 22,
      mixed_ml: 49.67,
      needs: [44.7, 4.97],
      lines: [{ amounts: [315, 35], count: 2, price: 42 }],
      cost: 84,
      left_over: [270, 0],
      says: '',
    },
    {
      product: 'Wax',
      unit: 'weight' as const,
      parts: ['Finish'],
      spread_ml: 44,
      mixed_ml: 44,
      needs: [39.6],
      lines: [],
      cost: null,
      left_over: [],
      says: 'No containers.',
    },
  ]
  it('names parts where there are several, and says what cannot be bought', () => {
    const text = mount(ShoppingList, {
      props: { shopping: { is_planned: false, n_panels: 6, products: rows, thinners: [] } },
    }).text()
    expect(text).toContain('What to buy for 6 panels of each')
    expect(text).toContain('22 mL go on the wood: a smaller mix cannot be portioned')
    expect(text.match(/go on the wood/g)).toHaveLength(1)
    expect(text).toContain('Base 44.7 mL + Hardener 4.97 mL')
    expect(text).toContain('2 × Base 315 mL + Hardener 35 mL')
    expect(text).toContain('39.6 g')
    expect(text).toContain('No containers.')
    expect(text).toContain('84.00')
  })
})

describe('the preparation', () => {
  it('takes grits as they are typed, and keeps the last good ones', async () => {
    const wood = draftOf(TUNG).preparation
    const row = mount(PreparationRow, { props: { modelValue: wood, findings: [] } })
    await row.find('#grits').setValue('100-150')
    expect(wood.grits).toEqual([100, 150])
    await row.find('#grits').setValue('100-x')
    expect(wood.grits).toEqual([100, 150])
    expect(row.find('#grits').attributes('aria-invalid')).toBe('true')
    await row.find('#end-grain').setValue('220')
    expect(wood.end_grain_grit).toBe(220)
  })
})

describe('looking a draft over', () => {
  it('waits for what is missing, then asks; a late answer never wins', async () => {
    vi.useFakeTimers()
    const answers: ((found: unknown) => void)[] = []
    vi.stubGlobal(
      'fetch',
      vi.fn(
        () =>
          new Promise<Response>((resolve) => {
            answers.push((found) => resolve(Response.json({ assessment: found, layers: [] })))
          }),
      ),
    )
    const scope = effectScope()
    const draft = ref<RecipeDraft | null>(draftOf(TUNG))
    const checked = scope.run(() => useDraftCheck(() => 1, draft))!
    draft.value!.name = ''
    await nextTick()
    await vi.advanceTimersByTimeAsync(200)
    expect(checked.trouble.value).toContain('a name')
    expect(answers).toHaveLength(0)
    draft.value!.name = 'Tung'
    void checked.check()
    void checked.check()
    await flushPromises()
    answers[1]!({ findings: ['new'] })
    await flushPromises()
    answers[0]!({ findings: ['old'] })
    await flushPromises()
    expect(checked.assessment.value).toEqual({ findings: ['new'] })
    expect(checked.trouble.value).toBe('')
    scope.stop()
    vi.useRealTimers()
  })
})
