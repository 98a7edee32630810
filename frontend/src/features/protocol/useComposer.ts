import { computed, ref } from 'vue'
import { api, body, Problem, wordsOf } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useKeptDraft } from '@/app/keptDraft'
import type { Change, Composed, Draft, Library } from './model'

/** A trial's protocol while it is put together: each change goes to the server and comes back with all that follows from it. */
export function useComposer(trialId: () => number) {
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
  const path = computed(() => ({ trial_id: trialId() }))

  async function ask(protocol: Draft | null, change: Change | null): Promise<Composed> {
    return body(
      api.POST('/api/trials/{trial_id}/protocol', {
        params: { path: path.value },
        body: { protocol, change },
      }),
    )
  }

  async function load(): Promise<void> {
    loadTrouble.value = ''
    composed.value = null
    try {
      const own = await ask(null, null)
      kept.show(`protocol.${trialId()}`, own.protocol)
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
      const found = await ask(next ?? draft.value, wanted)
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
      composed.value = await body(
        api.PUT('/api/trials/{trial_id}/protocol', { params: { path: path.value }, body: draft.value }),
      )
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
  }
}
