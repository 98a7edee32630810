import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import BoardCut from '@/kit/BoardCut.vue'
import type { Schemas } from '@/api/client'
import StartTrial from './StartTrial.vue'
import { deviationToSend, EMPTY_DEVIATION, measuresOf, measuresToSend, type Board } from './model'

describe('a board', () => {
  const props = {
    name: 'Beech 1',
    species: 'beech',
    lengthMm: 1000,
    widthMm: 310,
    neededMm: 846,
    scaleMm: 2000,
    panelLengthMm: 400,
    panelWidthMm: 150,
    kerfMm: 3,
    endTrimMm: 20,
    endPieceMm: 0,
    panels: [
      { code: 'K7', position: 1, offset_mm: 20, row: 0 },
      { code: 'R4', position: 2, offset_mm: 20, row: 1, is_spoiled: true },
      { code: 'T2', position: 3, offset_mm: null, row: null },
    ],
    defects: [{ from_mm: 900, to_mm: 1200, kind: 'knot' }],
  }
  it('is drawn to scale: lanes from below, defects no longer than itself', () => {
    const board = mount(BoardCut, { props })
    const [first, second] = board.findAll('.piece')
    expect(first?.attributes('transform')).toBe('translate(20 160)')
    expect(second?.attributes('transform')).toBe('translate(20 7)')
    expect(second?.attributes('aria-label')).toBe('2 R4, panel, spoiled')
    expect(board.find('.defect rect').attributes()).toMatchObject({ x: '900', width: '100' })
    expect(board.text()).toContain('No room for 3 (T2).')
  })
  it('gives the panel that is pressed, by pointer or by key', async () => {
    const board = mount(BoardCut, { props })
    await board.find('.piece').trigger('click')
    await board.findAll('.piece')[1]!.trigger('keydown', { key: 'Enter' })
    expect(board.emitted('pick')).toEqual([['K7'], ['R4']])
  })
  it('sends its measures only when each defect is whole', () => {
    const row = {
      name: 'Beech 1',
      length_mm: null,
      width_mm: 160,
      defects: [{ from_mm: 1, to_mm: 2 }],
    } as unknown as Board
    const draft = measuresOf(row)
    expect(measuresToSend(draft)).toEqual({
      name: 'Beech 1',
      length_mm: null,
      width_mm: 160,
      defects: [{ from_mm: 1, to_mm: 2, kind: 'other' }],
    })
    draft.defects.push({ from_mm: 3, to_mm: null, kind: 'knot' })
    expect(measuresToSend(draft)).toBe('Fill in where each defect begins and ends.')
  })
})

describe('a deviation', () => {
  it('sends what its kind needs', () => {
    const draft = { ...EMPTY_DEVIATION, panel: ' k7 ', board: 3, reason: 'Split', length_mm: 900 }
    expect(deviationToSend(draft)).toEqual({
      kind: 'panel_spoiled',
      panel: 'K7',
      board: null,
      reason: 'Split',
    })
    expect(deviationToSend({ ...draft, kind: 'panel_replaced' }).board).toBe(3)
    expect(deviationToSend({ ...draft, kind: 'board_swapped' })).toMatchObject({ board: 3, length_mm: 900 })
    expect(deviationToSend({ ...EMPTY_DEVIATION, kind: 'noted' }).panel).toBeNull()
  })
})

describe('starting a trial', () => {
  const trial = {
    build_ups: [{ name: 'Bare control' }, { name: 'Marrowby Tung' }],
    judges: [{ display_name: 'Imara' }],
  } as Schemas['Trial']
  const board = (more: Partial<Board>): Board =>
    ({ name: 'Beech 1', length_mm: 1400, width_mm: 160, panels: [{}, {}], ...more }) as Board
  const show = (boards: Board[]) =>
    mount(StartTrial, {
      props: { trial, boards, nSlips: 0, nShort: 0, isBusy: false, trouble: '' },
      global: {
        stubs: {
          ElInput: {
            props: ['modelValue'],
            template:
              '<input :value="modelValue" @input="$emit(`update:modelValue`, $event.target.value)" />',
          },
        },
      },
    })

  it('asks once more and says what will stand', async () => {
    const shown = show([board({})])
    await shown.find('button').trigger('click')
    expect(shown.emitted('start')).toBeUndefined()
    for (const words of ['2 build-ups', 'Marrowby Tung', '2 panels on 1 board', 'graded by Imara'])
      expect(shown.text()).toContain(words)
    await shown.find('form').trigger('submit')
    expect(shown.emitted('start')).toEqual([['']])
  })
  it('wants boards measured, or a word why not', async () => {
    const shown = show([board({}), board({ name: 'Beech 2', length_mm: null })])
    await shown.find('button').trigger('click')
    expect(shown.text()).toContain('1 board not measured (Beech 2)')
    await shown.find('form').trigger('submit')
    expect(shown.emitted('start')).toBeUndefined()
    await shown.find('input').setValue(' Cut already ')
    await shown.find('form').trigger('submit')
    expect(shown.emitted('start')).toEqual([['Cut already']])
  })
  it('can be left', async () => {
    const shown = show([board({})])
    await shown.find('button').trigger('click')
    await shown.find('form').trigger('keydown', { key: 'Escape' })
    expect(shown.find('form').exists()).toBe(false)
  })
})
