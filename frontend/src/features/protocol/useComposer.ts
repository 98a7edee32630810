import { computed, ref } from 'vue'
import { api, body, Problem, wordsOf } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useKeptDraft } from '@/app/keptDraft'
import type { Change, Composed, Draft, Library } from './model'

/** Where a protocol stands: in a trial, or on the shelf. */
export interface ComposerSource {
  /** What its draft is kept by in this browser. */
  key: () => string
  /** Look at a draft, changed or not; null for what stands. */
  ask: (protocol: Draft | null, change: Change | null) => Promise<Composed>
  /** Keep a draft; answers with what stands then. */
  keep: (draft: Draft) => Promise<Composed>
}

/** A protocol while it is put together: each change goes to the server and comes back with all that follows from it. */
export function useComposer(source: ComposerSource) {
  const composed = ref<Composed | null>(null)
  const library = useLoaded<Library>(() => body(api.GET('/api/library')))
  const kept = useKeptDraft<Draft>()
  const loadTrouble = ref('')
  const trouble = ref('')
  const troubledField = ref('')
  const isBusy = ref(false)
  // A late answer never overwrites a newer one.
  let run = 0

  const draft = computed(() => composed.value?.protocol ?? null)

  async function load(): Promise<void> {
    loadTrouble.value = ''
    composed.value = null
    try {
      const own = await source.ask(null, null)
      kept.show(source.key(), own.protocol)
      composed.value = own
      if (kept.isChanged.value && !own.is_fixed) await change(kept.draft.value, null)
    } catch (error) {
      loadTrouble.value = wordsOf(error)
    }
  }

  /** Look at a changed draft, or have the server change it; a refusal leaves what stood. */
  async function change(next: Draft | null, what: Partial<Change> | null): Promise<boolean> {
    const own = ++run
    trouble.value = ''
    troubledField.value = ''
    try {
      const wanted = what ? ({ test: '', protocol: '', ...what } as Change) : null
      const found = await source.ask(next ?? draft.value, wanted)
      if (own !== run) return false
      composed.value = found
      kept.draft.value = found.protocol
      return true
    } catch (error) {
      if (own === run) tell(error)
      return false
    }
  }

  async function save(): Promise<boolean> {
    if (!draft.value) return false
    isBusy.value = true
    try {
      composed.value = await source.keep(draft.value)
      kept.sent(composed.value.protocol)
      return true
    } catch (error) {
      tell(error)
      return false
    } finally {
      isBusy.value = false
    }
  }

  async function leave(): Promise<void> {
    kept.leave()
    await load()
  }

  /** Send something else of the draft; a refusal is told like any other. */
  async function send(request: () => Promise<unknown>): Promise<boolean> {
    isBusy.value = true
    trouble.value = ''
    try {
      await request()
      return true
    } catch (error) {
      tell(error)
      return false
    } finally {
      isBusy.value = false
    }
  }

  function tell(error: unknown): void {
    trouble.value = wordsOf(error)
    troubledField.value = error instanceof Problem ? (error.field ?? '') : ''
  }

  return {
    composed,
    draft,
    library: library.data,
    libraryTrouble: library.trouble,
    isChanged: kept.isChanged,
    loadTrouble,
    trouble,
    troubledField,
    isBusy,
    load,
    change,
    save,
    leave,
    send,
  }
}

export type Composer = ReturnType<typeof useComposer>
