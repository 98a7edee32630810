import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { createPinia, setActivePinia } from 'pinia'
import { signalsBetween, titleOf } from './alarms'
import { useDue } from './due'
import { codesOf, nearest, shownOf, spanOf, standOf, withinHour, type DueThing, looksOf } from './dueWords'
import type { JudgingTask } from './judging'
import { forgetServerTime, serverNow, startTicking, takeServerTime } from './serverClock'

const NINE = Date.parse('2027-03-02T09:00:00Z')
const minutes = (n: number) => NINE + n * 60_000
const iso = (moment: number) => new Date(moment).toISOString()

function thing(more: Partial<DueThing> = {}): DueThing {
  return {
    trial_id: 1,
    trial_name: 'Galley boards',
    operation_id: 7,
    verb: 'Wipe off coat 1',
    kind: 'wipe',
    panels: ['K7', 'T2'],
    opens_at: iso(minutes(3)),
    closes_at: iso(minutes(15)),
    aim_at: iso(minutes(3)),
    is_window: true,
    ...more,
  }
}
const planned = (at: number, more: Partial<DueThing> = {}) =>
  thing({ kind: 'coat', opens_at: iso(at), closes_at: null, aim_at: iso(at), is_window: false, ...more })

describe('what is due', () => {
  it('counts to the opening, then to the closing, then how late it is', () => {
    expect(standOf(thing(), minutes(0))).toMatchObject({ state: 'coming', left: 'in 3:00' })
    expect(standOf(thing(), minutes(3))).toMatchObject({ state: 'open', left: '12:00 left' })
    expect(standOf(thing(), minutes(14.99))).toMatchObject({ state: 'open', left: '0:01 left' })
    expect(standOf(thing(), minutes(15))).toMatchObject({ state: 'late', left: '0:00 late' })
    expect(standOf(thing(), minutes(18.2))).toMatchObject({ state: 'late', left: '3:12 late' })
  })
  it('counts a lift to its time, not to the edges of its tolerance', () => {
    const lift = thing({ kind: 'lift', aim_at: iso(minutes(9)) })
    expect(standOf(lift, minutes(5))).toMatchObject({ state: 'open', left: 'in 4:00' })
    expect(standOf(lift, minutes(10))).toMatchObject({ left: '5:00 left' })
  })
  it('calls planned work late only after a minute', () => {
    expect(standOf(planned(NINE), minutes(0.5))).toMatchObject({ state: 'open', left: 'now' })
    expect(standOf(planned(NINE), minutes(4))).toMatchObject({ state: 'late', left: '4:00 behind' })
  })
  it('reads in the units that matter, with the codes there is room for', () => {
    expect([spanOf(0), spanOf(59_999), spanOf(3_600_000), spanOf(90_000_000), spanOf(-5)]).toEqual([
      '0:00',
      '0:59',
      '1 h 00',
      '1 d 1 h',
      '0:00',
    ])
    expect(codesOf(['K7', 'T2', 'R4', 'M9'])).toBe('K7, T2, R4 +1')
    expect(shownOf(thing(), NINE).what).toBe('Wipe K7, T2')
    expect(shownOf(thing({ kind: 'mix', verb: 'Use up Hardoil', panels: [] }), NINE).what).toBe(
      'Use up Hardoil',
    )
  })
  it('stands by the time that it counts towards, however it came', async () => {
    setActivePinia(createPinia())
    const things = [planned(minutes(40)), thing({ trial_id: 2 }), planned(minutes(-90)), planned(minutes(12))]
    const body = JSON.stringify({ now: iso(NINE), time_zone: 'UTC', things })
    vi.stubGlobal(
      'fetch',
      async () => new Response(body, { headers: { 'Content-Type': 'application/json' } }),
    )
    const due = useDue()
    await due.load()
    const moments = due.shown.map((each) => each.moment)
    expect(moments).toHaveLength(4)
    expect(moments).toEqual([...moments].sort((a, b) => a - b))
    vi.unstubAllGlobals()
  })
  it('puts a missed window first, then what closes, then what comes, and nothing beyond the hour', () => {
    const late = thing({
      closes_at: iso(minutes(-200)),
      opens_at: iso(minutes(-300)),
      aim_at: iso(minutes(-300)),
    })
    const closing = thing({ opens_at: iso(minutes(-5)), aim_at: iso(minutes(-5)) })
    const soon = planned(minutes(2))
    const tomorrow = planned(minutes(1000))
    const show = (...things: DueThing[]) => things.map((each) => shownOf(each, NINE))
    expect(nearest(show(soon, closing, late, tomorrow))?.thing).toBe(late)
    expect(nearest(show(soon, closing, tomorrow))?.thing).toBe(closing)
    expect(nearest(show(tomorrow, soon))?.thing).toBe(soon)
    expect(nearest(show(tomorrow))).toBeNull()
    expect(withinHour(show(tomorrow, closing, soon), NINE).map((each) => each.thing)).toEqual([soon, closing])
  })
})

describe('looks that are a person’s own', () => {
  const task = (more: Partial<JudgingTask> = {}): JudgingTask => ({
    trial_id: 3, trial_name: 'Trays', is_simulated: false, by: 'judges', n_panels: 2, n_values: 2, n_read: 0, n_choices: 0, n_chosen: 0,
    n_panels_left: 2, next_panel: 'K7', closes_at: iso(minutes(8)), coming: [],
    look: { id: 'lifted', name: 'At lifting', after_min: 0, after: '', tolerance_min: null }, ...more,
  }) // prettier-ignore

  it('count down to when the first should have been read, and are late after it', () => {
    const [shown] = looksOf([task()], NINE)
    expect(shown).toMatchObject({ what: 'Look at K7 · 2 due', state: 'open', left: '8:00 left' })
    expect(looksOf([task()], minutes(9))[0]).toMatchObject({ state: 'late', left: '1:00 late' })
  })

  it('that come later stand one by one, by code and time, and nothing else', () => {
    const coming = [{ code: 'R4', opens_at: iso(minutes(20)), aim_at: iso(minutes(25)) }]
    const [shown] = looksOf([task({ next_panel: null, n_panels_left: 0, closes_at: null, coming })], NINE)
    expect(shown).toMatchObject({ what: 'Look at R4', state: 'coming', left: 'in 20:00' })
    expect(shown?.to).toMatchObject({ name: 'read', params: { trialId: '3', look: 'lifted' }, query: {} })
  })

  it('of a trial whose times are on paper have no time, and no place on the rule', () => {
    expect(looksOf([task({ closes_at: null })], NINE)).toEqual([])
  })

  it('a late look does not push a lift that closes out of sight', () => {
    const lift = shownOf(thing({ kind: 'lift', opens_at: iso(minutes(-5)), aim_at: iso(minutes(-5)) }), NINE)
    const late = looksOf([task({ closes_at: iso(minutes(-30)) })], NINE)
    expect(nearest([...late, lift])?.thing.kind).toBe('lift')
  })

  it('read with an instrument lead to where that is done', () => {
    expect(looksOf([task({ by: 'hands' })], NINE)[0]?.to).toMatchObject({ query: { by: 'hands' } })
  })
})

describe('the server’s time', () => {
  beforeEach(() => {
    vi.useFakeTimers({ now: NINE })
    forgetServerTime()
  })
  afterEach(() => vi.useRealTimers())

  it('is the middle of the asking, and moves with a clock that nobody can set', () => {
    const asked = performance.now()
    vi.advanceTimersByTime(400)
    takeServerTime(iso(minutes(60)), asked, performance.now())
    expect(serverNow()).toBe(minutes(60) + 200)
    vi.setSystemTime(NINE - 86_400_000)
    vi.advanceTimersByTime(5000)
    expect(serverNow()).toBe(minutes(60) + 5200)
  })
  it('is kept for a page that opens without a server, on a device whose clock is off', () => {
    const asked = performance.now()
    takeServerTime(iso(minutes(60)), asked, performance.now())
    const off = localStorage.getItem('nublet.clock')
    forgetServerTime()
    expect(serverNow()).toBe(NINE)
    localStorage.setItem('nublet.clock', String(off))
    expect(serverNow()).toBe(minutes(60))
  })
  it('takes no word from an answer that took long, once it has a better one', () => {
    takeServerTime(iso(minutes(60)), performance.now(), performance.now())
    const asked = performance.now()
    vi.advanceTimersByTime(9000)
    takeServerTime(iso(minutes(90)), asked, performance.now())
    expect(serverNow()).toBe(minutes(60) + 9000)
  })
  it('is asked for anew when the device slept or its clock was set', () => {
    const jumped = vi.fn()
    const stop = startTicking(jumped)
    vi.advanceTimersByTime(3000)
    expect(jumped).not.toHaveBeenCalled()
    vi.setSystemTime(NINE + 3_600_000)
    vi.advanceTimersByTime(300)
    expect(jumped).toHaveBeenCalledOnce()
    stop()
  })
})

describe('alarms', () => {
  const shown = [shownOf(thing(), NINE)]
  it('sound once when it opens, a minute before it closes, and when it is late', () => {
    expect(signalsBetween(shown, minutes(2), minutes(2.9))).toEqual([])
    expect(signalsBetween(shown, minutes(2.9), minutes(3))).toEqual(['opens'])
    expect(signalsBetween(shown, minutes(3), minutes(3.1))).toEqual([])
    expect(signalsBetween(shown, minutes(13.9), minutes(14))).toEqual(['closes'])
    expect(signalsBetween(shown, minutes(14.9), minutes(15.1))).toEqual(['late'])
  })
  it('stand in the title only when asked to', () => {
    const [first] = shown
    expect(titleOf(first ?? null, true)).toBe('in 3:00 · Wipe K7, T2 · Nublet')
    expect(titleOf(first ?? null, false)).toBe('Nublet')
    expect(titleOf(null, true)).toBe('Nublet')
  })
})
