import { describe, expect, it } from 'vitest'
import type { WorkEntry } from '@/app/workEntries'
import {
  blockOff,
  freeOf,
  lyingOf,
  meetingWords,
  nextStep,
  siteKey,
  sitesOf,
  stepOf,
  stepWords,
  type ActStep,
  type Expose,
  type ExposedTest,
} from './model'

const MINUTE = 60_000
const NOON = Date.parse('2027-03-02T12:00:00Z')
const iso = (minutes: number) => new Date(NOON + minutes * MINUTE).toISOString()

function act(kind: 'lay' | 'lift' | 'act', more: Partial<ActStep> = {}): ActStep {
  return {
    id: kind, kind, act: '', verb: kind === 'lay' ? 'Laid' : 'Lifted', words: kind === 'lay' ? 'Lay coffee' : 'Lift Coffee 1 h',
    how: [], minutes: 1, opens_min: 0, aim_min: 0, closes_min: null, is_hot: false, block_c: null, pours: true, observations: [],
    ...more,
  } // prettier-ignore
}
const COFFEE: ExposedTest = {
  id: 'coffee-1h', name: 'Coffee, 1 h', short_name: 'Coffee 1 h', agent: 'coffee', is_placed: true, cautions: [],
  ways: [
    [act('lay'), act('lift', { opens_min: 58, aim_min: 60, closes_min: 62 })],
    [act('lay'), act('lift', { opens_min: 5, aim_min: 6, closes_min: 7 })],
  ],
} // prettier-ignore

function view(sites: Partial<Expose['sites'][number]>[], more: Partial<Expose> = {}): Expose {
  const panels = [...new Set(sites.map((site) => site.panel ?? ''))]
  return {
    now: iso(0), time_zone: 'UTC', is_started: true, times_on_paper: false, block_check: 'flag', block_tolerance_c: 2,
    has_plan: true, is_judge: false, hands: [], instruments: [], tests: [COFFEE], panels: [], pours: [], missed: [], left_out: [],
    cannot_be_had: [],
    meetings: [
      { id: 'm', shared: 'Elm 1', test: 'coffee-1h', panels, planned_at: null, hands: null, n_begun: 0, n_over: 0 },
    ],
    meeting: 'm',
    steps: panels.map((panel) => ({ panel, test: 'coffee-1h', nth: 0, at: iso(0) })),
    sites: sites.map((site) => ({
      panel: 'K7', test: 'coffee-1h', way: 0, n_done: 0, since_at: null, ready_at: iso(-600), ...site,
    })),
    ...more,
  } // prettier-ignore
}
function entry(more: Partial<WorkEntry>): WorkEntry {
  return {
    trial_id: 1, client_id: 'a', entry: 'done', kind: 'lay', item: 'coffee-1h', look_after_min: 0, nth: 1, act: '',
    panels: ['K7'], at: iso(0), reason: '', measured: {}, ...more,
  } as WorkEntry // prettier-ignore
}

describe('how far each test is', () => {
  it('takes what is still on its way into account', () => {
    const [site] = sitesOf(view([{}]), [entry({})])
    expect(site).toMatchObject({ nDone: 1, since: NOON })
    const step = site && stepOf(site)
    expect(step).toMatchObject({
      opens: NOON + 58 * MINUTE,
      aim: NOON + 60 * MINUTE,
      closes: NOON + 62 * MINUTE,
    })
    const [lifted] = sitesOf(view([{}]), [entry({}), entry({ client_id: 'b', kind: 'lift', at: iso(60) })])
    expect(lifted && stepOf(lifted)).toBeNull()
  })

  it('forgets what was taken back, here or on the server', () => {
    const back = entry({ client_id: 'b', entry: 'take_back', undoes: 'a' })
    expect(sitesOf(view([{}]), [entry({}), back])[0]).toMatchObject({ nDone: 0, since: null })
    const sent = view([{ n_done: 1, since_at: iso(-5) }])
    expect(sitesOf(sent, [back])[0]).toMatchObject({ nDone: 0 })
  })

  it('gives a test up with one of its acts', () => {
    const [site] = sitesOf(view([{}]), [entry({ entry: 'skip', reason: 'cracked' })])
    expect(site && stepOf(site)).toBeNull()
  })

  it('goes by the panel’s own way: another build-up’s mend takes another time', () => {
    const [site] = sitesOf(view([{ way: 1, n_done: 1, since_at: iso(0) }]), [])
    expect(site && stepOf(site)).toMatchObject({ aim: NOON + 6 * MINUTE })
  })

  it('goes on after an act that was skipped, where it was no laying', () => {
    const skipped = entry({ entry: 'skip', kind: 'lift', reason: 'dropped' })
    const [site] = sitesOf(view([{ n_done: 1, since_at: iso(-60) }]), [skipped])
    expect(site).toMatchObject({ nDone: 2, since: NOON })
  })

  it('leaves other panels and tests as they are', () => {
    const sites = sitesOf(view([{ panel: 'K7' }, { panel: 'T4' }]), [entry({ panels: ['T4'] })])
    expect(sites.map((site) => [site.panel, site.nDone])).toEqual([['K7', 0], ['T4', 1]]) // prettier-ignore
  })
})

describe('what is next', () => {
  const steps = (sent: Expose, now: number, isPaused = false) => {
    const sites = sitesOf(sent, [])
    return nextStep(lyingOf(sites), freeOf(sent, sites), NOON + now * MINUTE, isPaused)
  }

  it('is begun in the order of the core', () => {
    const sent = view([{ panel: 'A1' }, { panel: 'B2' }])
    sent.steps.reverse()
    expect(steps(sent, 0)?.site.panel).toBe('B2')
  })

  it('is lifted when it is wanted, and nothing is begun that would make it late', () => {
    const sent = view([{ panel: 'A1' }, { panel: 'B2', n_done: 1, since_at: iso(-60) }])
    expect(steps(sent, 0)?.site.panel).toBe('B2')
    expect(
      steps(view([{ panel: 'A1' }, { panel: 'B2', n_done: 1, since_at: iso(-50) }]), 0)?.site.panel,
    ).toBe('A1')
    // A minute's work would end after the window closes.
    const long = view([{ panel: 'A1' }, { panel: 'B2', n_done: 1, since_at: iso(-59) }], {
      tests: [{ ...COFFEE, ways: [[act('lay', { minutes: 4 }), COFFEE.ways[0]?.[1] as ActStep]] }],
    })
    expect(steps(long, 0)?.site.panel).toBe('B2')
  })

  it('of two that are wanted is the one that closes first', () => {
    const sent = view([
      { panel: 'A1', n_done: 1, since_at: iso(-61) },
      { panel: 'B2', n_done: 1, since_at: iso(-62) },
    ])
    expect(steps(sent, 0)?.site.panel).toBe('B2')
  })

  it('begins nothing while it is paused, and still calls what lies', () => {
    const sent = view([{ panel: 'A1' }, { panel: 'B2', n_done: 1, since_at: iso(-20) }])
    expect(steps(sent, 0)?.site.panel).toBe('A1')
    expect(steps(sent, 0, true)?.site.panel).toBe('B2')
    expect(steps(view([{ panel: 'A1' }]), 0, true)).toBeNull()
  })

  it('is nothing when all is over', () => {
    expect(steps(view([{ n_done: 2, since_at: iso(-5) }]), 0)).toBeNull()
  })
})

describe('words', () => {
  it('says who meets what, and what the key stands under', () => {
    const sent = view([{ panel: 'K7' }])
    const [meeting] = sent.meetings
    expect(meeting && meetingWords(meeting, COFFEE)).toBe('Elm 1 meets coffee 1 h')
    expect(meeting && meetingWords({ ...meeting, shared: '', panels: ['A', 'B'] }, COFFEE)).toBe(
      '2 panels meet coffee 1 h',
    )
    const [site] = sitesOf(sent, [])
    expect(site && siteKey(site)).toBe('K7|coffee-1h')
    const step = site && stepOf(site)
    expect(step && stepWords(step)).toBe('Lay coffee on K7')
  })

  it('tells how far a block is off', () => {
    const hot = act('lay', { block_c: 70 })
    expect(blockOff(hot, 68, 2)).toEqual({ isOff: false, by: -2 })
    expect(blockOff(hot, 67.9, 2).isOff).toBe(true)
    expect(blockOff(hot, null, 2).isOff).toBe(false)
    expect(blockOff(act('lay'), 20, 2).isOff).toBe(false)
  })
})
