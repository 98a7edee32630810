import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref } from 'vue'
import DesignForm from './DesignForm.vue'
import { TRIAL } from './fixtures'
import { designDraftOf, type DesignDraft } from './model'
import OutlookCost from './OutlookCost.vue'
import { useOutlook } from './useOutlook'

const DRAFT = designDraftOf(TRIAL)
const copy = (): DesignDraft => JSON.parse(JSON.stringify(DRAFT)) as DesignDraft

beforeEach(() => {
  localStorage.clear()
  setActivePinia(createPinia())
})
afterEach(() => vi.unstubAllGlobals())

describe('the live answer', () => {
  /** A server that answers when it is told to. */
  function slowServer() {
    const asked: number[] = []
    const answers: (() => void)[] = []
    vi.stubGlobal(
      'fetch',
      vi.fn(async (request: Request) => {
        const { boards_per_species } = await request.json()
        asked.push(boards_per_species)
        await new Promise<void>((resolve) => answers.push(resolve))
        return Response.json({ n_panels: boards_per_species })
      }),
    )
    return { asked, answers }
  }

  it('follows a dragged slider without a queue: one question at a time, and the newest next', async () => {
    const { asked, answers } = slowServer()
    const draft = ref<DesignDraft | null>(copy())
    const scope = effectScope()
    const made = scope.run(() => useOutlook(() => 7, draft))
    await flushPromises()
    for (const n of [5, 6, 7, 8]) {
      draft.value!.boards_per_species = n
      await nextTick()
    }
    await flushPromises()
    expect(asked).toEqual([4])
    answers[0]!()
    await vi.waitFor(() => expect(asked).toEqual([4, 8]))
    answers[1]!()
    await vi.waitFor(() => expect(made?.outlook.value).toEqual({ n_panels: 8 }))
    scope.stop()
  })

  it('asks nothing while a number is missing, and says which', async () => {
    const { asked } = slowServer()
    const draft = ref<DesignDraft | null>({ ...copy(), kerf_mm: null })
    const scope = effectScope()
    const made = scope.run(() => useOutlook(() => 7, draft))
    await flushPromises()
    expect(asked).toEqual([])
    expect(made?.trouble.value).toBe('Fill in the kerf.')
    scope.stop()
  })

  it('keeps the last answer when the network is cut, and says so', async () => {
    const { answers } = slowServer()
    const draft = ref<DesignDraft | null>(copy())
    const scope = effectScope()
    const made = scope.run(() => useOutlook(() => 7, draft))
    await vi.waitFor(() => expect(answers).toHaveLength(1))
    answers[0]!()
    await vi.waitFor(() => expect(made?.outlook.value).toEqual({ n_panels: 4 }))
    vi.stubGlobal('fetch', vi.fn().mockRejectedValue(new TypeError('cut')))
    draft.value!.boards_per_species = 5
    await vi.waitFor(() => expect(made?.trouble.value).toContain('No answer from the server'))
    expect(made?.outlook.value).toEqual({ n_panels: 4 })
    scope.stop()
  })
})

describe('the form of a design', () => {
  const buildUps = [1, 2, 3].map((id) => ({ id, name: `Build-up ${id}` })) as never
  const form = (draft: DesignDraft, isFixed = false) =>
    mount(DesignForm, { props: { modelValue: draft, buildUps, usualSd: 0.6, isFixed, hasSlips: false } })

  it('makes room for as many names as there are sections', async () => {
    const draft = ref(copy())
    const made = form(draft.value)
    draft.value.sections.push('waxed', '')
    await made.setProps({ modelValue: { ...draft.value } })
    expect(made.findAll('[aria-label^="Name of section"]')).toHaveLength(2)
  })
  it('pairs two that are free, until none are left', async () => {
    const draft = copy()
    const made = form(draft)
    await made
      .findAll('button')
      .find((button) => button.text() === 'Pair two')!
      .trigger('click')
    expect(draft.pairs).toEqual([[1, 2]])
    await made.setProps({ modelValue: { ...draft } })
    expect(made.text()).not.toContain('Pair two')
    await made.find('[aria-label="Part pair 1"]').trigger('click')
    expect(draft.pairs).toEqual([])
  })
  it('stands still once the trial has started', () => {
    const made = form({ ...copy(), pairs: [[1, 2]] }, true)
    expect(made.text()).not.toContain('Part them')
    expect(made.findAll('input:not([disabled])')).toHaveLength(0)
  })
})

describe('what it costs', () => {
  it('is said in panels, hours, finish and money', () => {
    const cost = {
      effort: { prepare_h: 2.4, coat_h: 3, expose_h: 3.6, read_h: 2.9, total_h: 11.9 },
      litres: 0.682,
      money: 41.73,
      purchase: 162,
      n_without_price: 2,
      days: 38.6,
    }
    const outlook = { n_panels: 24, n_spots: 144, cost } as never
    const text = mount(OutlookCost, { props: { outlook } }).text()
    for (const part of [
      '24',
      '144 spots',
      '12',
      'coating 3.0',
      '682',
      '39 days',
      '41.73',
      '162.00 for whole',
      '2 without a price',
    ])
      expect(text).toContain(part)
  })
})
