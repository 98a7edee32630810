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
  /** Which value: without one it is the first that is asked for. */
  response?: string
  view?: string
  /** Of a choice between two pieces the other's code. */
  against?: string
  kind: Schemas['EntryKindEnum']
  value?: number
  is_beyond?: boolean
  /** What the last release called the value: its entries may still be waiting. */
  grade?: number
  note?: string
}

export type RefusedEntry = Refused<BenchEntry>

/** Grades and notes on their way to the server. */
export const useEntries = defineStore('entries', () =>
  useQueue<BenchEntry, Schemas['StandingReading']>(
    { waiting: 'entries', refused: 'refused' },
    ({ trial_id, place = 0, response = '', view = '', against = '', is_beyond = false, ...rest }) =>
      body(
        api.POST('/api/judging/{trial_id}/entries', {
          params: { path: { trial_id } },
          body: { ...rest, place, response, view, against, is_beyond },
        }),
      ),
  ),
)
