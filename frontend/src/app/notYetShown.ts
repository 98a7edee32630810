import { computed, shallowRef, type ComputedRef } from 'vue'
import type { Schemas } from '@/api/client'
import type { WorkEntry } from './workEntries'

/**
 * Entries that an answer of the server may not know yet: those on their way, and those that it took after it was last asked. Between
 * its word for an entry and the next answer a page would show the state from before it, and a second press would do it twice.
 */
export function useNotYetShown(
  queue: {
    waiting: readonly WorkEntry[]
    listen: (listener: (entry: WorkEntry, answer: Schemas['StandingWork'][]) => void) => void
  },
  trialId: () => number,
): { entries: ComputedRef<WorkEntry[]>; asking: () => () => void } {
  const taken = shallowRef<WorkEntry[]>([])
  queue.listen((entry) => (taken.value = [...taken.value, entry]))

  const entries = computed(() => {
    const all = [...taken.value, ...queue.waiting].filter((entry) => entry.trial_id === trialId())
    return [...new Map(all.map((entry) => [entry.client_id, entry])).values()]
  })

  /** Call when the server is asked; what comes back says that its answer shows. */
  function asking(): () => void {
    const known = new Set(taken.value.map((entry) => entry.client_id))
    return () => (taken.value = taken.value.filter((entry) => !known.has(entry.client_id)))
  }

  return { entries, asking }
}
