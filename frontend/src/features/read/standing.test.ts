import { describe, expect, it } from 'vitest'
import golden from '../../../../tests/golden/standing.json'
import { standingReading, type SpotEntry } from './standing'

describe('what a judge’s entries amount to, as the core has it', () => {
  it.each(golden.readings.map((each) => [each.name, each] as const))('%s', (_, { entries, stands }) => {
    const given = entries.map((each) => ({
      kind: each.entry,
      client_id: 'id' in each ? each.id : undefined,
      undoes: 'undoes' in each ? each.undoes : undefined,
      at: 'seen_at' in each ? each.seen_at : undefined,
      value: 'value' in each ? each.value : undefined,
      is_beyond: 'is_beyond' in each ? each.is_beyond : undefined,
      singles: 'singles' in each ? each.singles : undefined,
      note: 'note' in each ? each.note : undefined,
    })) as SpotEntry[]
    expect(standingReading(given)).toEqual({
      value: stands.value,
      is_beyond: 'is_beyond' in stands && stands.is_beyond,
      // What a browser shows of nothing has no list of readings at all.
      ...(stands.value === null ? {} : { singles: 'singles' in stands ? stands.singles : [] }),
      note: stands.note,
    })
  })

  it('leaves what the server says where a take-back reaches past what is here', () => {
    const before = { value: 4, is_beyond: false, note: 'ring' }
    expect(standingReading([{ kind: 'take_back' }], before)).toEqual(before)
    expect(standingReading([{ kind: 'grade', value: 2 }, { kind: 'take_back' }], before)).toEqual(before)
  })
})
