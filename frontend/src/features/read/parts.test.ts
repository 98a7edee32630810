import { mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope } from 'vue'
import { useSession } from '@/app/session'
import AnswerKeys from '@/kit/answers/AnswerKeys.vue'
import StepKeys from '@/kit/answers/StepKeys.vue'
import type { Ask, BlindSpot } from './model'
import PanelStrip from './PanelStrip.vue'
import RefusedEntries from './RefusedEntries.vue'
import { useSitting } from './useSitting'

const asked = (response: string, value: number | null = null): Ask => ({
  response,
  view: '',
  against: '',
  value,
  is_beyond: false,
  note: '',
})
const blind = (exposure: string, x_mm: number, value: number | null): BlindSpot => ({
  exposure, kind: 'spot', place: 0, side: 'front', x_mm, y_mm: 50, diameter_mm: 40, along_mm: 0, across_mm: 0, worked_out: [],
  asks: [asked('grade', value)],
}) // prettier-ignore

describe('small parts', () => {
  it('the keys of a scale give the step', async () => {
    const steps = [5, 4].map((value) => ({ value, key: String(value), words: `words ${value}`, says: '' }))
    const keys = mount(StepKeys, { props: { steps, standing: 4, isGrade: true, label: 'Grade this spot' } })
    expect(keys.find('.standing').text()).toContain('words 4')
    await keys.findAll('button')[0]!.trigger('click')
    expect(keys.emitted('answer')).toEqual([[5]])
  })
  it('kinds are turned on and off, and none is an answer', async () => {
    const keys = mount(AnswerKeys, {
      props: { ask: asked('change-kinds'), at: 'a', code: 'K7', isPaused: false },
    })
    await keys.find('.keep').trigger('click')
    window.dispatchEvent(new KeyboardEvent('keydown', { key: 'c' }))
    await keys.findAll('.kind')[1]!.trigger('click')
    await keys.find('.keep').trigger('click')
    expect(keys.emitted('answer')).toEqual([
      [0, false],
      [3, false],
    ])
    keys.unmount()
  })
  it('a measure that cannot be is refused and one that is unusual is asked about once', async () => {
    const keys = mount(AnswerKeys, {
      props: { ask: asked('gloss-60'), at: 'a', code: 'K7', isPaused: false },
    })
    const keep = async (typed: string) => {
      await keys.find('input').setValue(typed)
      await keys.find('form').trigger('submit')
    }
    await keep('matt')
    expect(keys.text()).toContain('as a number')
    await keep('-3')
    expect(keys.text()).toContain('cannot be')
    expect(keys.emitted('answer')).toBeUndefined()
    await keep('34,5')
    expect(keys.emitted('answer')).toEqual([[34.5, false]])
    keys.unmount()
  })
  it('a choice that is shown the other way round is kept as it is meant', async () => {
    const swapped = { ...asked('preferred'), against: 'T2', isSwapped: true }
    const keys = mount(AnswerKeys, { props: { ask: swapped, at: 'a', code: 'K7', isPaused: false } })
    expect(keys.findAll('.key')[0]?.text()).toContain('T2')
    await keys.findAll('.key')[0]?.trigger('click')
    // Of the two the one with the code T2, which stood at the left.
    expect(keys.emitted('answer')).toEqual([[0, false]])
    keys.unmount()
  })

  it('grades in bench words stand on the axis of the grades', async () => {
    const keys = mount(AnswerKeys, {
      props: { ask: asked('grade'), at: 'a', code: 'K7', isPaused: false, inWords: true },
    })
    expect(keys.findAll('.key').map((key) => key.text())).toEqual([
      expect.stringContaining('Clean'),
      expect.stringContaining('Faint'),
      expect.stringContaining('Marked'),
      expect.stringContaining('Damaged'),
    ])
    window.dispatchEvent(new KeyboardEvent('keydown', { key: '2' }))
    expect(keys.emitted('answer')).toEqual([[2.5, false]])
    keys.unmount()
  })

  it('a choice between two names both codes, and the key of a step comes before the page’s own', async () => {
    const keys = mount(AnswerKeys, {
      props: { ask: { ...asked('preferred'), against: 'T2' }, at: 'a', code: 'K7', isPaused: false },
    })
    expect(keys.findAll('button').map((each) => each.text())).toEqual(['1K7', '2Neither', '3T2'])
    const page = vi.fn()
    window.addEventListener('keydown', page)
    window.dispatchEvent(new KeyboardEvent('keydown', { key: '3' }))
    expect(keys.emitted('answer')).toEqual([[0, false]])
    expect(page).not.toHaveBeenCalled()
    window.removeEventListener('keydown', page)
    keys.unmount()
  })
  it('the strip of panels tells graded, begun and to grade', () => {
    const panel = (code: string, ...grades: (number | null)[]) => ({
      code,
      turn: 0,
      species: 'beech',
      length_mm: 400,
      width_mm: 150,
      areas: [],
      spots: grades.map((grade, index) => blind(String(index), 0, grade)),
    })
    const panels = [panel('K7', 3, 4), panel('R4', 3, null), panel('T2', null, null)]
    const strip = mount(PanelStrip, { props: { panels, here: 1 } })
    expect(strip.findAll('button').map((button) => button.attributes('aria-label'))).toEqual([
      'K7, graded',
      'R4, begun',
      'T2, to grade',
    ])
    expect(strip.find('[aria-current]').text()).toBe('R4')
  })
  it('a refused entry is shown whole, so that it can be entered again', () => {
    const entry = {
      client_id: 'x',
      trial_id: 1,
      panel: 'K7',
      exposure: 'wine-1h',
      look: '24h',
      kind: 'note' as const,
      note: 'faint ring',
    }
    const refused = mount(RefusedEntries, {
      props: {
        refused: [{ entry, says: 'No such panel.' }],
        names: new Map([['wine-1h', { short_name: 'Wine 1 h' }]]),
      },
    })
    expect(refused.text()).toContain('Panel K7, Wine 1 h, note “faint ring”: No such panel.')
  })
})

describe('a sitting', () => {
  const sent = {
    trial_id: 1,
    trial_name: 'Saloon tables',
    is_simulated: false,
    judge: 'Imara',
    judge_id: 3,
    by: 'judges',
    look: { id: '24h', name: '24 h', after_min: 1440, after: '', tolerance_min: null },
    looks: [],
    exposures: ['e0', 'e1'].map((id) => ({
      id, name: id, short_name: id, kind: 'liquid', choice: '', prompts: [{ response: 'grade', view: '' }],
    })),
    panels: ['K7', 'R4'].map((code) => ({
      code, turn: 0, species: 'beech', length_mm: 400, width_mm: 150, areas: [],
      spots: ['e0', 'e1'].map((id, n) => {
        const { asks, ...spot } = blind(id, 50 * n, null)
        return { ...spot, values: asks.map((each) => each.value), are_beyond: [false], singles: [[]], choices: [], note: '' }
      }),
    })),
  } // prettier-ignore

  async function open(prompts = ['grade']) {
    const stands = new Map<string, unknown>()
    vi.stubGlobal(
      'fetch',
      vi.fn(async (request: Request) => {
        if (request.method === 'GET')
          return Response.json({
            ...sent,
            exposures: sent.exposures.map((test) => ({
              ...test,
              prompts: prompts.map((response) => ({ response, view: '' })),
            })),
          })
        const entry = await request.json()
        const key = `${entry.panel} ${entry.exposure}`
        stands.set(key, {
          value: entry.kind === 'grade' ? entry.value : null,
          is_beyond: false,
          singles: entry.singles,
          note: entry.note ?? '',
          worked_out: entry.response === 'colour-b' ? [{ response: 'delta-e00', view: '', value: 2.3 }] : [],
        })
        return Response.json(stands.get(key))
      }),
    )
    const made = effectScope().run(() =>
      useSitting(
        () => 1,
        () => '24h',
      ),
    )
    if (!made) throw new Error('no scope')
    await made.load()
    return made
  }

  beforeEach(() => {
    localStorage.clear()
    setActivePinia(createPinia())
    useSession().person = {
      id: 3,
      username: 'i',
      display_name: 'I',
      role: 'judge',
      shop: 'S',
      currency: '€',
      keeps_key: false,
    }
  })

  it('grades and moves on, panel by panel, and says when all is done', async () => {
    const made = await open()
    made.answer(4)
    expect(made.place.value).toEqual({ panel: 0, spot: 1, ask: 0 })
    made.answer(3)
    expect(made.said.value).toBe('Panel K7 is done.')
    expect(made.place.value).toEqual({ panel: 1, spot: 0, ask: 0 })
    made.answer(2)
    made.answer(1)
    expect(made.said.value).toBe('Every spot at this look is graded.')
    expect(made.nRead.value).toBe(4)
    await vi.waitFor(() => expect(made.queue.status).toBe('saved'))
  })
  it('keeps what an instrument gives at once, goes on behind it, and takes it back at once', async () => {
    const made = await open(['colour-l', 'colour-a', 'colour-b', 'grade'])
    const one = (value: number) => ({ value, singles: [value - 1, value + 1], isBeyond: false })
    made.keepMeasured([one(70), one(8), one(25)])
    expect(made.place.value).toEqual({ panel: 0, spot: 0, ask: 3 })
    expect(made.spot.value?.asks.slice(0, 3).map((each) => [each.value, each.singles])).toEqual([
      [70, [69, 71]],
      [8, [7, 9]],
      [25, [24, 26]],
    ])
    await vi.waitFor(() => expect(made.justMeasured.value?.panel).toBe('K7'))
    expect(made.spot.value?.worked_out).toEqual([{ response: 'delta-e00', view: '', value: 2.3 }])
    made.takeBack()
    expect(made.spot.value?.asks.map((each) => each.value)).toEqual([null, null, null, null])
    await vi.waitFor(() => expect(made.queue.status).toBe('saved'))
  })
  it('takes back to what stood before, on the panel where it was', async () => {
    const made = await open()
    made.answer(4)
    made.pick('e0')
    made.answer(2)
    made.turn(1)
    made.takeBack()
    expect(made.panel.value?.code).toBe('K7')
    expect(made.spot.value?.exposure).toBe('e0')
    expect(made.ask.value?.value).toBe(4)
    made.takeBack()
    expect(made.ask.value?.value).toBeNull()
    made.takeBack()
    expect(made.said.value).toContain('left to take back')
    expect(made.queue.waiting.filter((entry) => entry.kind === 'take_back').length).toBeLessThanOrEqual(2)
    await vi.waitFor(() => expect(made.queue.status).toBe('saved'))
  })
  it('does not go on showing a grade that the server refused', async () => {
    const made = await open()
    vi.stubGlobal(
      'fetch',
      vi.fn(async (request: Request) =>
        request.method === 'GET'
          ? Response.json(sent)
          : Response.json({ status: 409, detail: 'No.', code: 'conflict', field: null }, { status: 409 }),
      ),
    )
    made.answer(4)
    expect(made.nRead.value).toBe(1)
    await vi.waitFor(() => expect(made.nRead.value).toBe(0))
    expect(made.queue.refused).toHaveLength(1)
    expect(made.place.value).toEqual({ panel: 0, spot: 1, ask: 0 })
  })
  it('keeps a note beside the grade', async () => {
    const made = await open()
    made.note(' faint ring ', made.noteTarget()!)
    expect(made.ask.value).toMatchObject({ value: null, note: 'faint ring' })
    expect(made.place.value).toEqual({ panel: 0, spot: 0, ask: 0 })
  })
  it('keeps a note for the spot that it was begun on, whatever is in hand since', async () => {
    const made = await open()
    const begun = made.noteTarget()!
    made.turn(1)
    made.note('lifted edge', begun)
    expect(made.panel.value?.code).toBe('R4')
    expect(made.ask.value?.note).toBe('')
    expect(made.panels.value[0]!.spots[0]!.asks[0]!.note).toBe('lifted edge')
    expect(made.queue.waiting[0]).toMatchObject({ panel: 'K7', exposure: 'e0', kind: 'note' })
  })
})
