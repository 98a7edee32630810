import { mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope } from 'vue'
import { useSession } from '@/app/session'
import GradeKeys from './GradeKeys.vue'
import type { Sitting } from './model'
import PanelStrip from './PanelStrip.vue'
import RefusedEntries from './RefusedEntries.vue'
import { useSitting } from './useSitting'

describe('small parts', () => {
  it('grade keys give the grade', async () => {
    const grades = [5, 4].map((grade) => ({ grade, key: String(grade), words: `words ${grade}`, says: '' }))
    const keys = mount(GradeKeys, { props: { grades, standing: 4 } })
    expect(keys.find('.standing').text()).toContain('words 4')
    await keys.findAll('button')[0]!.trigger('click')
    expect(keys.emitted('grade')).toEqual([[5]])
  })
  it('the strip of panels tells graded, begun and to grade', () => {
    const spot = (exposure: string, grade: number | null) => ({
      exposure,
      place: 0,
      side: 'front' as const,
      grade,
      note: '',
      x_mm: 0,
      y_mm: 0,
      diameter_mm: 40,
    })
    const panel = (code: string, ...grades: (number | null)[]) => ({
      code,
      species: 'beech',
      areas: [],
      spots: grades.map((grade, index) => spot(String(index), grade)),
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
  const spots = [0, 1].map((n) => ({
    exposure: `e${n}`,
    place: 0,
    side: 'front' as const,
    x_mm: 50 * n,
    y_mm: 50,
    diameter_mm: 40,
    grade: null,
    note: '',
  }))
  const sitting: Sitting = {
    trial_id: 1,
    trial_name: 'Saloon tables',
    is_simulated: false,
    judge: 'Imara',
    judge_id: 3,
    look: { id: '24h', name: '24 h', after_min: 1440, after: '', tolerance_min: null },
    looks: [],
    panel_length_mm: 400,
    panel_width_mm: 150,
    exposures: [],
    grades: [],
    panels: ['K7', 'R4'].map((code) => ({ code, species: 'beech', areas: [], spots })),
  }

  async function open() {
    const stands = new Map<string, { grade: number | null; note: string }>()
    vi.stubGlobal(
      'fetch',
      vi.fn(async (request: Request) => {
        if (request.method === 'GET') return Response.json(sitting)
        const entry = await request.json()
        const key = `${entry.panel} ${entry.exposure}`
        stands.set(key, { grade: entry.kind === 'grade' ? entry.grade : null, note: entry.note ?? '' })
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
    made.grade(4)
    expect(made.place.value).toEqual({ panel: 0, spot: 1 })
    made.grade(3)
    expect(made.said.value).toBe('Panel K7 is done.')
    expect(made.place.value).toEqual({ panel: 1, spot: 0 })
    made.grade(2)
    made.grade(1)
    expect(made.said.value).toBe('Every spot at this look is graded.')
    expect(made.nGraded.value).toBe(4)
    await vi.waitFor(() => expect(made.queue.status).toBe('saved'))
  })
  it('takes back to what stood before, on the panel where it was', async () => {
    const made = await open()
    made.grade(4)
    made.pick('e0')
    made.grade(2)
    made.turn(1)
    made.takeBack()
    expect(made.panel.value?.code).toBe('K7')
    expect(made.spot.value).toMatchObject({ exposure: 'e0', grade: 4 })
    made.takeBack()
    expect(made.spot.value?.grade).toBeNull()
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
          ? Response.json(sitting)
          : Response.json({ status: 409, detail: 'No.', code: 'conflict', field: null }, { status: 409 }),
      ),
    )
    made.grade(4)
    expect(made.nGraded.value).toBe(1)
    await vi.waitFor(() => expect(made.nGraded.value).toBe(0))
    expect(made.queue.refused).toHaveLength(1)
    expect(made.place.value).toEqual({ panel: 0, spot: 1 })
  })
  it('keeps a note beside the grade', async () => {
    const made = await open()
    made.note(' faint ring ', made.target()!)
    expect(made.spot.value).toMatchObject({ grade: null, note: 'faint ring' })
    expect(made.place.value).toEqual({ panel: 0, spot: 0 })
  })
  it('keeps a note for the spot that it was begun on, whatever is in hand since', async () => {
    const made = await open()
    const begun = made.target()!
    made.turn(1)
    made.note('lifted edge', begun)
    expect(made.panel.value?.code).toBe('R4')
    expect(made.spot.value?.note).toBe('')
    expect(made.panels.value[0]!.spots[0]!.note).toBe('lifted edge')
    expect(made.queue.waiting[0]).toMatchObject({ panel: 'K7', exposure: 'e0', kind: 'note' })
  })
})
