import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import BoardRow from './BoardRow.vue'
import DeviationForm from './DeviationForm.vue'
import type { Board, Design } from './model'

beforeEach(() => {
  localStorage.clear()
  setActivePinia(createPinia())
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
    const made = mount(DeviationForm, {
      props: { trialId: 7, boards: [BOARD], slips: [], selected: null, send },
    })
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
    const made = mount(DeviationForm, {
      props: { trialId: 9, boards: [BOARD], slips: [], selected: null, send },
    })
    await made.setProps({ selected: 'K7' })
    await made.find('textarea').setValue('Dropped')
    await made.find('form').trigger('submit')
    await made.find('input[value=noted]').setValue()
    answer('')
    await flushPromises()
    expect((made.find('input[value=noted]').element as HTMLInputElement).checked).toBe(true)
    expect((made.find('textarea').element as HTMLTextAreaElement).value).toBe('')
    expect(JSON.parse(localStorage.getItem('nublet.draft.0.deviation.9')!)).toMatchObject({
      typed: { kind: 'noted', panel: '' },
    })
  })
  it('a spoiled panel can be replaced but not spoiled again', async () => {
    const made = mount(DeviationForm, {
      props: { trialId: 8, boards: [BOARD], slips: [], selected: null, send: vi.fn() },
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
