import { useEventListener } from '@vueuse/core'
import { computed, onScopeDispose, shallowRef, ref, watch, type ComputedRef, type Ref } from 'vue'
import { Problem, wordsOf } from '@/api/client'
import { forgetEntries, isUnreachable, keepEntry, keptEntries, type KeptEntry } from '@/api/kept'
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
  /** Once what this browser kept is known. */
  filled: () => Promise<void>
}

const RETRY_MS = 3000

/**
 * Entries on their way to the server, oldest first, for whoever is signed in and on whatever page. They are
 * written to this browser's store before they are sent and leave it only when the server has answered, so a cut
 * network, a reload, a browser that is closed or an ended sign-in loses none. What the server refuses is set aside with its
 * reason and kept until the person has seen it.
 */
export function useQueue<E extends Queued, A>(name: string, send: (entry: E) => Promise<A>): Queue<E, A> {
  const session = useSession()
  const owner = computed(() => session.person?.id ?? 0)
  const list = () => `${name}.${owner.value}`
  const waiting = shallowRef<E[]>([])
  const refused = shallowRef<Refused<E>[]>([])
  const isSending = ref(false)
  const isCut = ref(false)
  const nWriting = ref(0)
  const listeners = new Set<(entry: E, answer: A) => void>()
  const writes = new Map<string, Promise<void>>()
  let timer: number | undefined
  let filling: Promise<void> = Promise.resolve()
  let last = 0
  let filled = 0

  const status = computed(() => {
    if (waiting.value.length === 0) return 'saved' as const
    // Kept is said of what is on the disk.
    if (nWriting.value > 0) return 'saving' as const
    return isCut.value || session.hasExpired ? ('kept' as const) : ('saving' as const)
  })

  function add(entry: E): void {
    waiting.value = [...waiting.value, entry]
    const kept: KeptEntry = { client_id: entry.client_id, list: list(), n: nextNumber(), entry }
    // A disk that is full, or a browser that keeps nothing: it is still sent from here.
    nWriting.value++
    writes.set(
      entry.client_id,
      keepEntry(kept)
        .catch(() => undefined)
        .finally(() => nWriting.value--),
    )
    void flush()
  }

  /** Later than all before, of this browser's other tabs too. */
  function nextNumber(): number {
    last = Math.max(last + 0.001, Date.now())
    return last
  }

  /** Take over what this browser kept of the person's: from before a reload, or from another tab. */
  async function fill(): Promise<void> {
    const [mine, from] = [owner.value, list()]
    if (filled !== mine) [waiting.value, refused.value, filled] = [[], [], mine]
    if (!mine) return
    await importEarlier(name, mine, nextNumber).catch(() => undefined)
    const kept = await keptEntries(from).catch(() => [])
    if (owner.value !== mine) return
    const here = new Set(waiting.value.map((entry) => entry.client_id))
    const before = kept.filter((each) => each.says === undefined && !here.has(each.client_id))
    waiting.value = [...before.map((each) => each.entry as E), ...waiting.value]
    refused.value = kept.flatMap((each) =>
      each.says === undefined ? [] : [{ entry: each.entry as E, says: each.says }],
    )
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
      // What was kept from before goes first, and nothing is taken for new that is on its way.
      await filling
      for (let entry = waiting.value[0]; entry && owner.value === sender; entry = waiting.value[0]) {
        // Written down before it is sent.
        await writes.get(entry.client_id)
        const answer = await deliver(entry)
        if (owner.value !== sender) return
        await forget(entry.client_id, answer === null)
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

  /** By its id, not by its place: another tab may have sent it too and shortened the list meanwhile. */
  async function forget(id: string, isRefused: boolean): Promise<void> {
    waiting.value = waiting.value.filter((other) => other.client_id !== id)
    writes.delete(id)
    if (!isRefused) await forgetEntries([id]).catch(() => undefined)
  }

  async function deliver(entry: E): Promise<A | null> {
    try {
      return await send(entry)
    } catch (error) {
      if (
        error instanceof Problem &&
        !error.isOtherPerson &&
        !isUnreachable(error) &&
        [400, 403, 404, 409].includes(error.status)
      ) {
        const says = wordsOf(error)
        refused.value = [...refused.value, { entry, says }]
        await keepEntry({ client_id: entry.client_id, list: list(), n: nextNumber(), entry, says }).catch(
          () => undefined,
        )
        return null
      }
      throw error
    }
  }

  function forgetRefused(): void {
    void forgetEntries(refused.value.map((each) => each.entry.client_id)).catch(() => undefined)
    refused.value = []
  }

  useEventListener(window, 'online', () => void flush())
  // Another tab, or the page from before it was frozen, may have kept some.
  useEventListener(document, 'visibilitychange', () => {
    if (document.visibilityState === 'visible' && !isSending.value) refill()
  })
  function refill(): void {
    filling = fill()
    void filling.then(flush)
  }
  watch(owner, refill, { flush: 'sync', immediate: true })
  watch(
    () => session.hasExpired,
    () => void flush(),
  )

  return { waiting, refused, status, add, listen, flush, forgetRefused, filled: () => filling }
}

/** What the last release kept in another place. */
async function importEarlier(name: string, owner: number, nextNumber: () => number): Promise<void> {
  const waits = `nublet.${name}.${owner}`
  const earlier = localStorage.getItem(waits)
  if (earlier === null) return
  const found: unknown = JSON.parse(earlier)
  if (Array.isArray(found))
    for (const entry of found as Queued[])
      await keepEntry({ client_id: entry.client_id, list: `${name}.${owner}`, n: nextNumber(), entry })
  localStorage.removeItem(waits)
}
