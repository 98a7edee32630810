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
  /** The readings of an instrument of which the value is the mean. */
  singles?: number[]
  /** What the last release called the value: its entries may still be waiting. */
  grade?: number
  note?: string
  /** When it was seen, by the server's clock as this device kept it. */
  at?: string
  /** 1 where the site came round a second time. */
  turn?: number
  /** Of a take-back the entry that it undoes. */
  undoes?: string
  device?: string
}

export type RefusedEntry = Refused<BenchEntry>

/** What an entry is where it says nothing else. */
const PLAIN = {
  place: 0,
  response: '',
  view: '',
  against: '',
  is_beyond: false,
  singles: [],
  turn: 0,
  device: '',
}

/** Grades and notes on their way to the server. */
export const useEntries = defineStore('entries', () =>
  useQueue<BenchEntry, Schemas['StandingReading']>('entries', ({ trial_id, ...rest }) =>
    body(
      api.POST('/api/judging/{trial_id}/entries', {
        params: { path: { trial_id } },
        body: { ...PLAIN, ...rest },
      }),
    ),
  ),
)
