import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref } from 'vue'
import BoardRow from '@/features/prepare/BoardRow.vue'
import DeviationForm from '@/features/prepare/DeviationForm.vue'
import type { Board } from '@/features/prepare/model'
import DesignForm from './DesignForm.vue'
import { TRIAL } from './fixtures'
import { designDraftOf, type Design, type DesignDraft } from './model'
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
    mount(DesignForm, { props: { modelValue: draft, buildUps, usualSd: 0.6, isFixed } })

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

const BOARD = {
  id: 3,
  name: 'Beech 1',
  species: 'beech',
  length_mm: 1300,
  width_mm: 160,
  needed_mm: 846,
  says: '',
  defects: [],
  panels: [
    { code: 'K7', position: 1, offset_mm: 20, row: 0, is_spoiled: false, replaces: null },
    { code: 'R4', position: 2, offset_mm: 423, row: 0, is_spoiled: true, replaces: null },
  ],
} as unknown as Board
const DESIGN = {
  started_at: null,
  panel_length_mm: 400,
  panel_width_mm: 150,
  kerf_mm: 3,
  end_trim_mm: 20,
  end_piece_mm: 0,
} as unknown as Design

describe('a board to measure', () => {
  const row = (send: () => Promise<string>, started_at: string | null = null) =>
    mount(BoardRow, {
      props: { board: BOARD, design: { ...DESIGN, started_at }, scaleMm: 2000, selected: 'R4', send },
    })

  it('keeps what was typed when it is refused, and closes when it is taken', async () => {
    const send = vi.fn().mockResolvedValueOnce('0 mm long cannot be.').mockResolvedValueOnce('')
    const made = row(send)
    await made.find('[aria-label="Measure Beech 1"]').trigger('click')
    await made.find('#length-3').setValue('0')
    await made.find('form').trigger('submit')
    await flushPromises()
    expect(made.find('[role=alert]').text()).toBe('0 mm long cannot be.')
    expect((made.find('#length-3').element as HTMLInputElement).value).toBe('0')
    await made.find('#length-3').setValue('1400')
    await made.find('form').trigger('submit')
    await flushPromises()
    expect(send.mock.calls[1]![1]).toMatchObject({ length_mm: 1400, width_mm: 160, defects: [] })
    expect(made.find('form').exists()).toBe(false)
  })
  it('says where the chosen panel is sawn, and cannot be measured once the trial has started', () => {
    const made = row(vi.fn(), '2026-11-25T08:00:00Z')
    expect(made.find('[role=status]').text()).toContain('Panel R4: 423')
    expect(made.find('[role=status]').text()).toContain('spoiled')
    expect(made.text()).not.toContain('Measure')
  })
})

describe('recording a deviation', () => {
  it('takes the panel that is pointed at, keeps what is refused, and starts anew when it is taken', async () => {
    const send = vi.fn().mockResolvedValueOnce('Say what happened.').mockResolvedValueOnce('')
    const made = mount(DeviationForm, { props: { trialId: 7, boards: [BOARD], selected: null, send } })
    await made.setProps({ selected: 'K7' })
    await made.find('form').trigger('submit')
    await flushPromises()
    expect(send.mock.calls[0]![0]).toEqual({ kind: 'panel_spoiled', panel: 'K7', board: null, reason: '' })
    expect(made.find('[role=alert]').text()).toBe('Say what happened.')
    await made.find('textarea').setValue('Dropped')
    await made.find('form').trigger('submit')
    await flushPromises()
    expect(send.mock.calls[1]![0]).toMatchObject({ panel: 'K7', reason: 'Dropped' })
    expect((made.find('textarea').element as HTMLTextAreaElement).value).toBe('')
  })
  it('keeps what is chosen for the next one while the first is on its way', async () => {
    let answer: (trouble: string) => void = () => undefined
    const send = vi.fn(() => new Promise<string>((resolve) => (answer = resolve)))
    const made = mount(DeviationForm, { props: { trialId: 9, boards: [BOARD], selected: null, send } })
    await made.setProps({ selected: 'K7' })
    await made.find('textarea').setValue('Dropped')
    await made.find('form').trigger('submit')
    await made.find('input[value=noted]').setValue()
    answer('')
    await flushPromises()
    expect((made.find('input[value=noted]').element as HTMLInputElement).checked).toBe(true)
    expect((made.find('textarea').element as HTMLTextAreaElement).value).toBe('')
    expect(JSON.parse(localStorage.getItem('nublet.draft.0.deviation.9')!)).toMatchObject({
      kind: 'noted',
      panel: '',
    })
  })
  it('a spoiled panel can be replaced but not spoiled again', async () => {
    const made = mount(DeviationForm, {
      props: { trialId: 8, boards: [BOARD], selected: null, send: vi.fn() },
    })
    await made.setProps({ selected: 'R4' })
    await made.find('form').trigger('submit')
    await made.find('input[value=panel_replaced]').setValue()
    await made.setProps({ selected: 'K7' })
    await made.setProps({ selected: 'R4' })
    await made.find('form').trigger('submit')
    await flushPromises()
    const sent = vi.mocked(made.props('send')).mock.calls.map(([fields]) => fields.panel)
    expect(sent).toEqual([null, 'R4'])
  })
})
