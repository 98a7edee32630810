import { defineStore } from 'pinia'
import { api, body, type Schemas } from '@/api/client'
import { useQueue, type Refused } from './queue'

/** One key press of a judge, as it is queued and sent. */
export interface BenchEntry {
  client_id: string
  /** Whose it is: nobody else's session may bring it. */
  judge?: number
  trial_id: number
  panel: string
  exposure: string
  /** The number of the spot's section; an undivided panel has none. */
  place?: number
  look: string
  kind: Schemas['EntryKindEnum']
  grade?: number
  note?: string
}

export type RefusedEntry = Refused<BenchEntry>

/** Grades and notes on their way to the server. */
export const useEntries = defineStore('entries', () =>
  useQueue<BenchEntry, Schemas['StandingReading']>(
    { waiting: 'entries', refused: 'refused' },
    ({ trial_id, place = 0, ...rest }) =>
      body(
        api.POST('/api/judging/{trial_id}/entries', {
          params: { path: { trial_id } },
          body: { ...rest, place },
        }),
      ),
  ),
)
