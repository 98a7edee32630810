import { describe, expect, it } from 'vitest'
import golden from '../../../../tests/golden/standing.json'
import { standingWork, type StandingEntry, type StandingWork } from './standing'

const NOTHING: StandingWork = { begun_at: null, ended_at: null, skipped_because: '', is_even: false }

describe('what entries amount to, as the core has it', () => {
  it.each(golden.work.map((each) => [each.name, each] as const))('%s', (_, { entries, stands }) => {
    const given = entries.map(({ id, ...entry }) => ({ ...entry, client_id: id })) as StandingEntry[]
    const found = standingWork(given)
    for (const [code, wanted] of Object.entries(stands)) {
      const { begun_at, ended_at, skipped_because } = found.get(code) ?? NOTHING
      expect([begun_at, ended_at, skipped_because]).toEqual(wanted)
    }
  })

  it('goes on from what the server says', () => {
    const before = new Map([['K7', { ...NOTHING, begun_at: '2027-03-02T09:00:00.000Z' }]])
    const found = standingWork(
      [{ client_id: 'a', entry: 'done', panels: ['K7', 'T2'], at: '2027-03-02T09:04:00.000Z' }],
      before,
    )
    expect(found.get('K7')?.ended_at).toBe('2027-03-02T09:02:00.000Z')
    expect(found.get('T2')?.begun_at).toBe('2027-03-02T09:02:00.000Z')
  })

  it('shows nothing where the server is asked to take back what it alone knows', () => {
    const before = new Map([['K7', { ...NOTHING, begun_at: '2027-03-02T09:00:00.000Z' }]])
    const taken = standingWork(
      [{ client_id: 'b', entry: 'take_back', panels: ['K7'], at: '2027-03-02T09:05:00.000Z', undoes: 'a' }],
      before,
    )
    expect(taken.get('K7')).toEqual(NOTHING)
  })
})
