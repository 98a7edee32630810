import { useEventListener, useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, onScopeDispose, ref, watch } from 'vue'
import { api, body, Problem, wordsOf, type Schemas } from '@/api/client'
import { useSession } from './session'

/** One key press at the bench, as it is queued and sent. */
export interface BenchEntry {
  client_id: string
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

export interface RefusedEntry {
  entry: BenchEntry
  says: string
}

type SavedListener = (entry: BenchEntry, stands: Schemas['StandingReading']) => void

const RETRY_MS = 3000

/**
 * Entries on their way to the server, oldest first, for whoever is signed in and on whatever page. They are
 * written to this browser's storage before they are sent and leave it only when the server has answered, so a cut
 * network, a reload or an ended sign-in loses none. What the server refuses is set aside with its reason and kept
 * until the judge has seen it.
 */
export const useEntries = defineStore('entries', () => {
  const session = useSession()
  const owner = computed(() => session.person?.id ?? 0)
  const waiting = useLocalStorage<BenchEntry[]>(() => `nublet.entries.${owner.value}`, [])
  const refused = useLocalStorage<RefusedEntry[]>(() => `nublet.refused.${owner.value}`, [])
  const isSending = ref(false)
  const isCut = ref(false)
  const acknowledgedMs = ref<number[]>([])
  const enteredAt = new Map<string, number>()
  const listeners = new Set<SavedListener>()
  let timer: number | undefined

  const status = computed(() => {
    if (waiting.value.length === 0) return 'saved' as const
    return isCut.value || session.hasExpired ? ('kept' as const) : ('saving' as const)
  })

  function add(entry: BenchEntry): void {
    enteredAt.set(entry.client_id, performance.now())
    waiting.value = [...waiting.value, entry]
    void flush()
  }

  /** Be told of each entry that the server has taken, for as long as the caller lives. */
  function listen(listener: SavedListener): void {
    listeners.add(listener)
    onScopeDispose(() => listeners.delete(listener))
  }

  async function flush(): Promise<void> {
    if (isSending.value || session.hasExpired || !owner.value) return
    isSending.value = true
    window.clearTimeout(timer)
    const sender = owner.value
    try {
      for (let entry = waiting.value[0]; entry && owner.value === sender; entry = waiting.value[0]) {
        const stands = await send(entry)
        if (owner.value !== sender) return
        // By its id, not by its place: another tab may have sent it too and shortened the list meanwhile.
        const sent = entry.client_id
        waiting.value = waiting.value.filter((other) => other.client_id !== sent)
        isCut.value = false
        if (stands) {
          acknowledge(entry)
          for (const listener of listeners) listener(entry, stands)
        }
      }
    } catch {
      // No answer or signed out: everything stays queued and is tried again.
      isCut.value = !session.hasExpired
      timer = window.setTimeout(flush, RETRY_MS)
    } finally {
      isSending.value = false
    }
  }

  async function send(entry: BenchEntry): Promise<Schemas['StandingReading'] | null> {
    const { trial_id, place = 0, ...rest } = entry
    const fields = { ...rest, place }
    try {
      return await body(
        api.POST('/api/judging/{trial_id}/entries', { params: { path: { trial_id } }, body: fields }),
      )
    } catch (error) {
      if (error instanceof Problem && [400, 404, 409].includes(error.status)) {
        refused.value = [...refused.value, { entry, says: wordsOf(error) }]
        return null
      }
      throw error
    }
  }

  /** Note how long an entry of this page took from the key to the server's answer. */
  function acknowledge(entry: BenchEntry): void {
    const began = enteredAt.get(entry.client_id)
    enteredAt.delete(entry.client_id)
    if (began !== undefined) acknowledgedMs.value.push(performance.now() - began)
  }

  function forgetRefused(): void {
    refused.value = []
  }

  useEventListener(window, 'online', () => void flush())
  // After the storage has turned to the new person's entries.
  watch([owner, () => session.hasExpired], () => void flush(), { flush: 'post', immediate: true })

  return { waiting, refused, status, acknowledgedMs, add, listen, flush, forgetRefused }
})
