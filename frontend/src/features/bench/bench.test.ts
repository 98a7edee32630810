import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import PaceRows from './PaceRows.vue'
import { benchToSend, draftOf, newHands, tookWords, type Bench } from './model'

const BENCH: Bench = {
  time_zone: 'UTC',
  heat_blocks: 1,
  irons: 1,
  rack_places: null,
  cleanup_min: 10,
  airing_min: 30,
  cup_step_ml: 0.5,
  scale_step_g: 0.1,
  currency: '€',
  thinner_prices: { spirit: 8, alcohol: null, strong_solvent: null },
  hands: [
    {
      id: 4,
      name: 'Nell',
      hours: [{ days: ['mon'], from: '09:00', to: '12:30' }],
      days_off: ['2026-12-24', '2026-12-25'],
    },
  ],
  instruments: [{ kind: 'balance', name: 'balance', address: 'socket://127.0.0.1:8331' }],
  paces: [
    {
      kind: 'abrade',
      words: 'Abrading between coats',
      own: null,
      usual: 6,
      n_panels: 24,
      logged_min: 2.1,
      planned_min: 0.85,
      logged_minutes_per_m2: 18.5,
    },
    {
      kind: 'sand',
      words: 'Sanding, each grit',
      own: 9,
      usual: 8,
      n_panels: 0,
      logged_min: null,
      planned_min: null,
      logged_minutes_per_m2: null,
    },
  ],
}

describe('how long hands take', () => {
  it('is planned as the log says, by one press', async () => {
    const own = draftOf(BENCH).paces
    expect(own).toEqual({ abrade: null, sand: 9 })
    const rows = mount(PaceRows, { props: { paces: BENCH.paces, modelValue: own } })
    expect(rows.text()).toContain('You take 2.1 min a panel, on 24 panels; 0.85 would be planned.')
    expect(rows.text()).toContain('nothing logged yet')
    expect(rows.findAll('button')).toHaveLength(1)
    expect(tookWords({ ...BENCH.paces[0]!, planned_min: 2.07 })).toContain('on 24 panels; as planned.')
    await rows.find('button').trigger('click')
    expect(own.abrade).toBe(18.5)
    expect(benchToSend({ ...draftOf(BENCH), paces: own }, false)).toMatchObject({
      paces: { abrade: 18.5, sand: 9 },
    })
  })
})

describe('the bench as it is set', () => {
  it('goes back as it came', () => {
    const draft = draftOf(BENCH)
    expect(draft.hands[0]?.days_off).toBe('2026-12-24, 2026-12-25')
    expect(benchToSend(draft, true)).toMatchObject({
      hands: BENCH.hands,
      instruments: [{ kind: 'balance', address: 'socket://127.0.0.1:8331' }],
      rack_places: null,
    })
  })
  it('is not the server’s own object, so that leaving it leaves nothing changed', () => {
    const draft = draftOf(BENCH)
    draft.hands[0]!.hours[0]!.days.push('tue')
    expect(BENCH.hands[0]?.hours[0]?.days).toEqual(['mon'])
  })
  it('sends instruments only for whoever may set them, and no half-filled numbers', () => {
    const draft = draftOf(BENCH)
    expect(benchToSend(draft, false)).not.toHaveProperty('instruments')
    draft.cleanup_min = null
    expect(benchToSend(draft, true)).toContain('0 for none')
  })
  it('begins new hands with a usual week', () => {
    const hands = newHands()
    expect(hands.hours[0]).toMatchObject({ from: '09:00', to: '17:30' })
    expect(hands.hours[0]?.days).toHaveLength(5)
  })
})
