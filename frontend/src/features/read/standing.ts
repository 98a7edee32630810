import type { Schemas } from '@/api/client'

/** One key press for one spot at one look, as the core knows it (src/nublet/core/bench/standing.py). */
export interface SpotEntry {
  kind: Schemas['EntryKindEnum']
  grade?: number
  note?: string
}

export interface StandingReading {
  grade: number | null
  note: string
}

/**
 * What entries for one spot amount to, on top of what the server says. A take-back undoes the last one left; where none of them
 * is left it undoes something of the server's, which then stands here until the server has answered.
 */
export function standingReading(
  entries: readonly SpotEntry[],
  before: StandingReading = { grade: null, note: '' },
): StandingReading {
  const kept: SpotEntry[] = []
  for (const entry of entries) {
    if (entry.kind === 'take_back') kept.pop()
    else kept.push(entry)
  }
  const grade = kept.filter((entry) => entry.kind === 'grade').at(-1)?.grade
  const note = kept.filter((entry) => entry.kind === 'note').at(-1)?.note
  return { grade: grade ?? before.grade, note: note ?? before.note }
}
