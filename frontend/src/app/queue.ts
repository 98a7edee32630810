import { useEventListener, useLocalStorage } from '@vueuse/core'
import { computed, onScopeDispose, ref, watch, type ComputedRef, type Ref } from 'vue'
import { Problem, wordsOf } from '@/api/client'
import { useSession } from './session'

/** What is entered at the bench, on its way to the server; its id makes sending it twice harmless. */
export interface Queued {
  client_id: string
}

export interface Refused<E> {
  entry: E
  says: string
}

export interface Queue<E, A> {
  waiting: Ref<E[]>
  refused: Ref<Refused<E>[]>
  status: ComputedRef<'saved' | 'saving' | 'kept'>
  add: (entry: E) => void
  /** Be told of each entry that the server has taken, for as long as the caller lives. */
  listen: (listener: (entry: E, answer: A) => void) => void
  flush: () => Promise<void>
  forgetRefused: () => void
}

const RETRY_MS = 3000

/**
 * Entries on their way to the server, oldest first, for whoever is signed in and on whatever page. They are
 * written to this browser's storage before they are sent and leave it only when the server has answered, so a cut
 * network, a reload or an ended sign-in loses none. What the server refuses is set aside with its reason and kept
 * until the person has seen it.
 */
export function useQueue<E extends Queued, A>(
  names: { waiting: string; refused: string },
  send: (entry: E) => Promise<A>,
): Queue<E, A> {
  const session = useSession()
  const owner = computed(() => session.person?.id ?? 0)
  const waiting = useLocalStorage<E[]>(() => `nublet.${names.waiting}.${owner.value}`, []) as Ref<E[]>
  const refused = useLocalStorage<Refused<E>[]>(() => `nublet.${names.refused}.${owner.value}`, []) as Ref<
    Refused<E>[]
  >
  const isSending = ref(false)
  const isCut = ref(false)
  const listeners = new Set<(entry: E, answer: A) => void>()
  let timer: number | undefined

  const status = computed(() => {
    if (waiting.value.length === 0) return 'saved' as const
    return isCut.value || session.hasExpired ? ('kept' as const) : ('saving' as const)
  })

  function add(entry: E): void {
    waiting.value = [...waiting.value, entry]
    void flush()
  }

  function listen(listener: (entry: E, answer: A) => void): void {
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
        const answer = await deliver(entry)
        if (owner.value !== sender) return
        // By its id, not by its place: another tab may have sent it too and shortened the list meanwhile.
        const sent = entry.client_id
        waiting.value = waiting.value.filter((other) => other.client_id !== sent)
        isCut.value = false
        if (answer !== null) for (const listener of listeners) listener(entry, answer)
      }
    } catch {
      // No answer or signed out: everything stays queued and is tried again.
      isCut.value = !session.hasExpired
      timer = window.setTimeout(flush, RETRY_MS)
    } finally {
      isSending.value = false
    }
  }

  async function deliver(entry: E): Promise<A | null> {
    try {
      return await send(entry)
    } catch (error) {
      if (error instanceof Problem && !error.isOtherPerson && [400, 403, 404, 409].includes(error.status)) {
        refused.value = [...refused.value, { entry, says: wordsOf(error) }]
        return null
      }
      throw error
    }
  }

  function forgetRefused(): void {
    refused.value = []
  }

  useEventListener(window, 'online', () => void flush())
  // After the storage has turned to the new person's entries.
  watch([owner, () => session.hasExpired], () => void flush(), { flush: 'post', immediate: true })

  return { waiting, refused, status, add, listen, flush, forgetRefused }
}
