import type { Schemas } from '@/api/client'

/** One key press for one piece of work, as the core knows it (src/nublet/core/bench/standing.py). */
export interface StandingEntry {
  client_id: string
  entry: Schemas['WorkEntryKindEnum']
  panels: readonly string[]
  at: string
  begun_at?: string | null
  reason?: string
  undoes?: string | null
}

/** What stands of one piece of work on one panel. */
export interface StandingWork {
  begun_at: string | null
  ended_at: string | null
  skipped_because: string
  is_even: boolean
}

const NOTHING: StandingWork = { begun_at: null, ended_at: null, skipped_because: '', is_even: false }
const EVEN_SAYS = 'The sheen is even: no more coats.'

/**
 * What entries amount to, panel by panel, on top of what the server says. It is the server that decides; this shows the same
 * before it has answered, and both are held to tests/golden/standing.json.
 */
export function standingWork(
  entries: readonly StandingEntry[],
  before: ReadonlyMap<string, StandingWork> = new Map(),
): Map<string, StandingWork> {
  const found = new Map(before)
  const here = new Set(entries.map((entry) => entry.client_id))
  const undone = new Set(entries.flatMap((entry) => (entry.entry === 'take_back' ? [entry.undoes] : [])))
  for (const entry of entries) {
    if (undone.has(entry.client_id)) continue
    if (entry.entry === 'done') finish(found, entry)
    else if (entry.entry !== 'take_back')
      for (const code of entry.panels) found.set(code, after(found.get(code) ?? NOTHING, entry))
    // What is taken back is the server's alone: nothing is known here of what stood before it.
    else if (!here.has(entry.undoes ?? '')) for (const code of entry.panels) found.set(code, NOTHING)
  }
  return found
}

function after(standing: StandingWork, entry: StandingEntry): StandingWork {
  if (entry.entry === 'begin') return { ...standing, begun_at: entry.at }
  if (entry.entry !== 'skip' && entry.entry !== 'even') return standing
  const isEven = entry.entry === 'even'
  const isBegun = standing.begun_at !== null && Date.parse(standing.begun_at) <= Date.parse(entry.at)
  return {
    begun_at: isBegun ? standing.begun_at : entry.at,
    ended_at: entry.at,
    skipped_because: isEven ? EVEN_SAYS : (entry.reason ?? '…'),
    is_even: isEven,
  }
}

/** Several panels written down at once were done one after the other: the time since the first was begun is shared out. */
function finish(found: Map<string, StandingWork>, entry: StandingEntry): void {
  const at = Date.parse(entry.at)
  const begun = entry.panels.flatMap((code) => found.get(code)?.begun_at ?? [])
  const first = entry.begun_at
    ? Date.parse(entry.begun_at)
    : Math.min(at, ...begun.map((each) => Date.parse(each)))
  const since = Math.min(first, at)
  const n = Math.max(1, entry.panels.length)
  const shared = (number: number) => new Date(Math.round(since + (number * (at - since)) / n)).toISOString()
  entry.panels.forEach((code, number) =>
    found.set(code, {
      begun_at: shared(number),
      ended_at: number === n - 1 ? entry.at : shared(number + 1),
      skipped_because: '',
      is_even: false,
    }),
  )
}
