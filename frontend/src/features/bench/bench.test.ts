import { describe, expect, it } from 'vitest'
import { benchToSend, draftOf, newHands, type Bench } from './model'

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
}

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
