import { defineStore } from 'pinia'
import { api, body, type Schemas } from '@/api/client'
import { useQueue } from './queue'

/** One key press at the bench days, as it is queued and sent. */
export type WorkEntry = Schemas['NewWorkEntryRequest'] & { trial_id: number }

/** Work begun, done, skipped and measured, on its way to the server. */
export const useWorkEntries = defineStore('workEntries', () =>
  useQueue<WorkEntry, Schemas['StandingWork'][]>('work', ({ trial_id, ...entry }) =>
    body(api.POST('/api/trials/{trial_id}/days/entries', { params: { path: { trial_id } }, body: entry })),
  ),
)
