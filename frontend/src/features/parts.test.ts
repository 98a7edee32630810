import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref } from 'vue'
import { api, body, Problem } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useSession } from '@/app/session'
import ChoiceBar from '@/kit/ChoiceBar.vue'
import IntervalBar from '@/kit/IntervalBar.vue'
import LayerSection from '@/kit/LayerSection.vue'
import EvidenceMatrix from './evidence/EvidenceMatrix.vue'
import IntervalPlot from './evidence/IntervalPlot.vue'
import { evidenceRows, type TestEvidence } from './evidence/model'
import PairsTable from './evidence/PairsTable.vue'
import RankingRows from './ranking/RankingRows.vue'
import type { Ranking } from './ranking/model'
import GradeKeys from './read/GradeKeys.vue'
import PanelStrip from './read/PanelStrip.vue'
import RefusedEntries from './read/RefusedEntries.vue'
import { useSitting } from './read/useSitting'
import type { Sitting } from './read/model'

const TEST: TestEvidence = {
  test: 'wine-1h',
  species: 'all',
  says: '',
  n_panels: 6,
  residual_df: 4,
  system_p: 0.01,
  systems: [
    { system: 'Satin', mean: 4.67, se: 0.2, ci: [4.1, 5.2], letters: 'a', n_panels: 3 },
    { system: 'Tung', mean: 3.33, se: 0.2, ci: [2.8, 3.9], letters: 'ab', n_panels: 3 },
    { system: 'Bare control', mean: 1.33, se: null, ci: null, letters: 'b', n_panels: 3 },
  ],
  pairs: [
    {
      a: 'Bare control',
      b: 'Satin',
      difference: -3.34,
      se: 0.3,
      ci: [-4.4, -2.3],
      p_tukey: 0.0004,
      told_apart: true,
    },
    { a: 'Satin', b: 'Tung', difference: 1.34, se: 0.3, ci: [-0.1, 2.8], p_tukey: 0.061, told_apart: false },
    { a: 'Bare control', b: 'Tung', difference: -2, se: null, ci: null, p_tukey: null, told_apart: null },
  ],
}
const NAMES = new Map([['wine-1h', 'Wine 1 h']])

describe('the cross-section', () => {
  const drawn = (...layers: [string, 'in' | 'on' | 'top', number][]) =>
    mount(LayerSection, {
      props: { layers: layers.map(([family, seat, coats]) => ({ family, seat, coats })) },
    })

  it('lets oils into the wood and stands films on it', () => {
    const section = drawn(['pure-drying-oil', 'in', 2], ['oil-varnish', 'on', 3], ['wax', 'top', 1])
    expect(section.findAll('.band')).toHaveLength(3)
    expect(section.findAll('.coat')).toHaveLength(2)
    expect(section.findAll('.rim')).toHaveLength(2)
  })
  it('keeps an oil over a film out of the wood', () => {
    expect(drawn(['oil-varnish', 'on', 1], ['pure-drying-oil', 'in', 1]).findAll('.rim')).toHaveLength(2)
  })
  it('marks bare wood', () => {
    expect(drawn().find('.bare').exists()).toBe(true)
  })
})

describe('the evidence matrix', () => {
  const matrix = mount(EvidenceMatrix, {
    props: {
      rows: evidenceRows([TEST], 'wine-1h', 'Bare control'),
      tests: [TEST],
      names: NAMES,
      chosen: 'wine-1h',
      behind: null,
    },
  })

  it('says each mean and its interval in words', () => {
    expect(matrix.findAll('.cell').map((cell) => cell.attributes('aria-label'))).toEqual([
      'Satin, Wine 1 h: mean 4.7, interval 4.1 to 5.2. Show the readings.',
      'Tung, Wine 1 h: mean 3.3, interval 2.8 to 3.9. Show the readings.',
      'Bare control, Wine 1 h: mean 1.3, no interval. Show the readings.',
    ])
  })
  it('joins what is not told apart by bars', () => {
    const on = matrix.findAll('tbody tr').map((row) => row.findAll('.tie').map((tie) => tie.classes('on')))
    expect(on).toEqual([
      [true, false],
      [true, true],
      [false, true],
    ])
  })
  it('opens the readings behind a point', async () => {
    await matrix.findAll('.cell')[1]!.trigger('click')
    expect(matrix.emitted('open')).toEqual([['wine-1h', 'Tung']])
  })
})

describe('the interval plot and the pairs', () => {
  it('draws no interval where there is none', () => {
    const plot = mount(IntervalPlot, { props: { test: TEST, title: 'Wine 1 h', behind: 'Tung' } })
    expect(plot.findAll('.point').map((point) => point.find('.interval').exists())).toEqual([
      true,
      true,
      false,
    ])
    expect(plot.findAll('.open')).toHaveLength(1)
  })
  it('opens a point by key too', async () => {
    const plot = mount(IntervalPlot, { props: { test: TEST, title: 'Wine 1 h', behind: null } })
    await plot.findAll('.point')[2]!.trigger('keydown', { key: 'Enter' })
    expect(plot.emitted('open')).toEqual([['Bare control']])
  })
  it('puts the better build-up first and turns its interval with it', () => {
    const table = mount(PairsTable, { props: { test: TEST, title: 'Wine 1 h' } })
    const rows = table.findAll('tbody tr').map((row) => row.findAll('td').map((cell) => cell.text()))
    expect(rows).toEqual([
      ['Satin', 'Bare control', '3.34', '2.3 to 4.4', '< 0.001', 'yes'],
      ['Tung', 'Bare control', '2.00', '–', '–', 'cannot say'],
      ['Satin', 'Tung', '1.34', '-0.1 to 2.8', '0.061', 'no'],
    ])
  })
})

describe('the ranking', () => {
  const row = (system: string, inTie: boolean, probability: number | null): Ranking['systems'][number] => ({
    system,
    score: 82.4,
    score_low: 74,
    score_high: 91,
    p_best: inTie ? 0.6 : 0,
    p_top_three: 1,
    expected_rank: 1.4,
    p_passes: 0.97,
    p_beaten_by_leader: inTie ? 0 : 1,
    in_tie_group: inTie,
    gates: [{ test: 'wine-1h', threshold: 4, probability }],
    criteria: [],
  })
  const ranking: Ranking = {
    profile: {
      id: 'dining-table',
      name: 'Dining table',
      says: '',
      criteria: [],
      gates: [{ test: 'wine-1h', threshold: 4 }],
    },
    systems: [row('Satin', true, 0.97), row('Tung', false, 0.02), row('Oil', false, null)],
    p_none_passes: 0,
    n_draws: 10000,
    species: 'all',
    species_choices: ['all'],
    section: '',
    section_choices: [],
    look: '24h',
    is_simulated: false,
    says: [],
  }
  const rows = mount(RankingRows, { props: { ranking, names: NAMES } })

  it('says what each gate comes to, and claims no certainty', () => {
    expect(rows.findAll('tbody .gate').map((cell) => cell.text())).toEqual([
      'passes97 %',
      'fails2 %',
      'not tested',
    ])
    expect(rows.findAll('tbody tr').map((line) => line.findAll('td.figure')[0]!.text())).toEqual([
      '60 %',
      '< 1 %',
      '< 1 %',
    ])
  })
  it('tells the tie group in words as well as by the bar', () => {
    expect(rows.findAll('td.tie').map((cell) => cell.text())).toEqual([
      'not told apart from the leader',
      'behind',
      'behind',
    ])
  })
})

describe('small parts', () => {
  it('a choice bar shows which stands and says which was chosen', async () => {
    const options = [
      { id: 'lifted', name: 'At lifting' },
      { id: '24h', name: '24 h' },
    ]
    const bar = mount(ChoiceBar, { props: { label: 'Look', options, chosen: '24h' } })
    expect(bar.findAll('button').map((button) => button.attributes('aria-pressed'))).toEqual([
      'false',
      'true',
    ])
    await bar.findAll('button')[0]!.trigger('click')
    expect(bar.emitted('choose')).toEqual([['lifted']])
  })
  it('an interval bar is held at the ends of its axis', () => {
    const bar = mount(IntervalBar, { props: { from: 1, to: 5, mean: 4.9, low: 4.6, high: 5.4 } })
    const span = bar.find('.span').attributes()
    expect(Number(span.x) + Number(span.width)).toBeCloseTo(100)
    expect(
      mount(IntervalBar, { props: { from: 1, to: 5, mean: 3 } })
        .find('.span')
        .exists(),
    ).toBe(false)
  })
  it('grade keys give the grade', async () => {
    const grades = [5, 4].map((grade) => ({ grade, words: `words ${grade}`, says: '' }))
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

describe('answers', () => {
  it('a refusal becomes a Problem in the server’s words', async () => {
    vi.stubGlobal(
      'fetch',
      vi.fn(async () =>
        Response.json(
          { status: 400, detail: 'Too short.', code: 'invalid', field: 'password' },
          { status: 400 },
        ),
      ),
    )
    const problem = await body(api.GET('/api/trials')).catch((error: unknown) => error)
    expect(problem).toMatchObject({ message: 'Too short.', code: 'invalid', field: 'password', status: 400 })
  })
  it('no answer is a Problem too', async () => {
    vi.stubGlobal(
      'fetch',
      vi.fn(async () => Promise.reject(new TypeError('cut'))),
    )
    const problem = await body(api.GET('/api/trials')).catch((error: unknown) => error)
    expect(problem).toBeInstanceOf(Problem)
    expect((problem as Problem).isOffline).toBe(true)
  })
  it('a late answer never overwrites a newer one', async () => {
    const asked = ref('slow')
    const answers: Record<string, (value: string) => void> = {}
    const loaded = effectScope().run(() =>
      useLoaded(() => new Promise<string>((done) => (answers[asked.value] = done)), [asked]),
    )
    asked.value = 'quick'
    await nextTick()
    answers.quick!('quick')
    await flushPromises()
    answers.slow!('slow')
    await flushPromises()
    expect(loaded?.data.value).toBe('quick')
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
    look: { id: '24h', name: '24 h', after_min: 1440 },
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
