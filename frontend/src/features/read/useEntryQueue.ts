import { useEventListener, useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { api, body, Problem, wordsOf, type Schemas } from '@/api/client'
import { useSession } from '@/app/session'
import type { BenchEntry } from './model'

export interface RefusedEntry {
  entry: BenchEntry
  says: string
}

const RETRY_MS = 3000

/**
 * Entries on their way to the server, oldest first. They are written to this browser's storage before they are
 * sent and leave it only when the server has answered, so a cut network, a reload or an ended sign-in loses none.
 * What the server refuses is set aside with its reason and kept until the judge has seen it.
 */
export function useEntryQueue(onSaved: (entry: BenchEntry, stands: Schemas['StandingReading']) => void) {
  const session = useSession()
  const owner = session.person?.id ?? 0
  const waiting = useLocalStorage<BenchEntry[]>(`nublet.entries.${owner}`, [])
  const refused = useLocalStorage<RefusedEntry[]>(`nublet.refused.${owner}`, [])
  const isSending = ref(false)
  const isCut = ref(false)
  const acknowledgedMs = ref<number[]>([])
  const enteredAt = new Map<string, number>()
  let timer: number | undefined

  const status = computed(() => {
    const n = waiting.value.length
    if (n === 0) return 'saved' as const
    return isCut.value || session.hasExpired ? ('kept' as const) : ('saving' as const)
  })

  function add(entry: BenchEntry): void {
    enteredAt.set(entry.client_id, performance.now())
    waiting.value = [...waiting.value, entry]
    void flush()
  }

  async function flush(): Promise<void> {
    if (isSending.value || session.hasExpired || session.person?.id !== owner) return
    isSending.value = true
    window.clearTimeout(timer)
    try {
      for (let entry = waiting.value[0]; entry; entry = waiting.value[0]) {
        const stands = await send(entry)
        waiting.value = waiting.value.slice(1)
        isCut.value = false
        if (stands) {
          acknowledge(entry)
          onSaved(entry, stands)
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
    const { trial_id, ...fields } = entry
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
  watch(
    () => session.hasExpired,
    (expired) => !expired && void flush(),
  )
  void flush()

  return { waiting, refused, status, acknowledgedMs, add, flush, forgetRefused }
}
