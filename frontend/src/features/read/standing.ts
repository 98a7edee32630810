import type { Schemas } from '@/api/client'

/** One key press for one value at one look, as the core knows it (src/nublet/core/bench/standing.py). */
export interface SpotEntry {
  client_id?: string
  /** Of a take-back the entry that it undoes; the last one left where it says none. */
  undoes?: string
  /** When it was seen: the value that was seen last stands. */
  at?: string
  kind: Schemas['EntryKindEnum']
  value?: number
  /** What an entry of the last release calls its value. */
  grade?: number
  is_beyond?: boolean
  singles?: number[]
  note?: string
}

export interface StandingReading {
  value: number | null
  is_beyond: boolean
  singles?: number[]
  note: string
}

/**
 * What entries for one value amount to, on top of what the server says. A take-back undoes the one that it names, else the last one
 * left; where that is none of them it undoes something of the server's, which then stands here until the server has answered.
 */
export function standingReading(
  entries: readonly SpotEntry[],
  before: StandingReading = { value: null, is_beyond: false, note: '' },
): StandingReading {
  let kept: SpotEntry[] = []
  for (const entry of entries) {
    if (entry.kind !== 'take_back') kept.push(entry)
    else if (entry.undoes) kept = kept.filter((other) => other.client_id !== entry.undoes)
    else kept.pop()
  }
  const values = kept.filter((entry) => entry.kind === 'grade')
  if (values.every((entry) => entry.at))
    values.sort((a, b) => Date.parse(a.at ?? '') - Date.parse(b.at ?? ''))
  const last = values.at(-1)
  const note = kept.filter((entry) => entry.kind === 'note').at(-1)?.note
  return {
    value: last?.value ?? last?.grade ?? before.value,
    is_beyond: last ? (last.is_beyond ?? false) : before.is_beyond,
    ...(last ? { singles: last.singles ?? [] } : before.singles ? { singles: before.singles } : {}),
    note: note ?? before.note,
  }
}
