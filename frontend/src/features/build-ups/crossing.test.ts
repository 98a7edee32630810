import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { useSession } from '@/app/session'
import {
  cellOf,
  crossingWords,
  draftOfCrossing,
  factorOf,
  gridOf,
  isOut,
  toggleCells,
  toggleLevel,
  togglePlace,
  type CrossingDraft,
} from './crossing'
import CrossingPanel from './CrossingPanel.vue'
import CrossingStands from './CrossingStands.vue'
import type { BuildUpDetail } from './model'

const FIVE = ['Hardoil', 'Tung', 'Varnish', 'Satin', 'Shellac']
const buildUps = [
  { name: 'Bare control', is_control: true, recipe: null, layers: [] },
  ...FIVE.map((name, index) => ({
    name,
    is_control: false,
    recipe: { layers: [{ product: index + 1, family: 'x' }] },
    layers: [{ name, family: 'x', seat: 'in', coats: 2 }],
  })),
] as unknown as BuildUpDetail[]

function begun(): CrossingDraft {
  return draftOfCrossing({}, buildUps)
}
function fiveByNine(): CrossingDraft {
  const draft = begun()
  for (const coats of [3, 1, 2]) toggleLevel(draft, 'coats', { name: `${coats} coats`, coats })
  for (const name of ['paste wax', 'hard topcoat'])
    toggleLevel(draft, 'top', { name, layers: [{ family: 'wax' }] })
  return draft
}

describe('a crossing', () => {
  it('begins with the candidates as levels of the finish', () => {
    expect(factorOf(begun(), 'finish')?.levels.map((level) => level.name)).toEqual(FIVE)
    expect(crossingWords(begun())).toBe('5 build-ups')
  })
  it('of five finishes, coats and tops is 45 cells, coats in order, a top with and without', () => {
    const draft = fiveByNine()
    expect(factorOf(draft, 'coats')?.levels.map((level) => level.coats)).toEqual([1, 2, 3])
    expect(factorOf(draft, 'top')?.levels.map((level) => level.name)).toEqual([
      'nothing',
      'paste wax',
      'hard topcoat',
    ])
    expect(crossingWords(draft)).toBe('5 build-ups × 9 sections of each panel: 45 cells')
    expect(gridOf(draft).columns.names[1]).toBe('1 coats · paste wax')
  })
  it('on panels makes build-ups of tops, and cells of the last factor across', () => {
    const draft = begun()
    toggleLevel(draft, 'top', { name: 'wax', layers: [{ family: 'wax' }] })
    togglePlace(draft, 'top')
    expect(crossingWords(draft)).toBe('10 build-ups')
    expect(gridOf(draft).columns.names).toEqual(['nothing', 'wax'])
    const cell = cellOf(draft, new Map([[0, 'Tung']]), new Map([[1, 'wax']]))
    toggleCells(draft, [cell])
    expect(isOut(draft, ['Tung', 'wax'])).toBe(true)
    expect(crossingWords(draft)).toBe('9 build-ups')
    toggleCells(draft, [cell])
    expect(draft.out).toEqual([])
  })
  it('takes whole rows and columns out, and forgets them when its levels change', () => {
    const draft = fiveByNine()
    const { rows, columns } = gridOf(draft)
    toggleCells(
      draft,
      rows.levels.map((row) => cellOf(draft, row, columns.levels[0] ?? new Map())),
    )
    expect(crossingWords(draft)).toBe('5 build-ups × 8 sections of each panel: 40 cells')
    toggleLevel(draft, 'top', { name: 'paste wax' })
    expect(draft.out).toEqual([])
    for (const name of ['nothing', 'hard topcoat']) toggleLevel(draft, 'top', { name })
    expect(factorOf(draft, 'top')).toBeUndefined()
  })
})

describe('the factors on the screen', () => {
  beforeEach(() => {
    localStorage.clear()
    setActivePinia(createPinia())
    useSession()
  })
  it('are crossed in a few presses and sent as a whole', async () => {
    const sent: unknown[] = []
    vi.stubGlobal(
      'fetch',
      vi.fn(async (request: Request) => {
        if (request.method === 'PUT') sent.push(await request.json())
        return Response.json(
          request.method === 'PUT'
            ? { trial: { id: 1 } }
            : { crossing: {}, preparations: [{ name: 'charred deep' }, { name: 'sanded to 180' }] },
        )
      }),
    )
    const panel = mount(CrossingPanel, { props: { trialId: 1, buildUps, families: [] } })
    await flushPromises()
    let presses = 0
    async function press(name: string): Promise<void> {
      presses += 1
      await panel
        .findAll('button')
        .find((button) => button.text() === name)
        ?.trigger('click')
    }
    await press('Cross factors')
    for (const name of ['charred deep', 'sanded to 180', '1 coat', '2 coats', '3 coats']) await press(name)
    expect(panel.find('.says').text()).toBe('10 build-ups × 3 sections of each panel: 30 cells')
    // Three factors are the most: a top is not to be had beside them.
    expect(panel.findAll('fieldset').map((each) => each.attributes('disabled') !== undefined)).toEqual([
      false,
      false,
      false,
      true,
    ])
    await panel.find('form').trigger('submit')
    await flushPromises()
    expect(presses + 1).toBeLessThan(25)
    expect(sent[0]).toMatchObject({ bare_at: [], out: [] })
    expect(panel.emitted('made')?.[0]?.[1]).toContain('30 cells')
  })
  it('stand on the page of a trial that has started, with nothing to press', async () => {
    const crossing = {
      factors: [
        { kind: 'finish', on: 'panels', levels: [{ name: 'Tung' }, { name: 'Satin' }] },
        { kind: 'top', on: 'sections', levels: [{ name: 'none' }, { name: 'paste wax' }] },
      ],
      out: [['Satin', 'paste wax']],
    }
    const answer = (plain: unknown) =>
      vi.stubGlobal(
        'fetch',
        vi.fn(async () => Response.json({ crossing: plain, preparations: [] })),
      )
    answer(crossing)
    const shown = mount(CrossingStands, { props: { trialId: 1, buildUps } })
    await flushPromises()
    expect(shown.find('.says').text()).toBe('2 build-ups × 2 sections of each panel: 3 cells')
    expect(shown.findAll('td.out')).toHaveLength(1)
    expect(shown.findAll('button').length).toBeGreaterThan(0)
    expect((shown.find('fieldset').element as HTMLFieldSetElement).disabled).toBe(true)
    answer({})
    const without = mount(CrossingStands, { props: { trialId: 2, buildUps } })
    await flushPromises()
    expect(without.find('section').exists()).toBe(false)
  })
})
