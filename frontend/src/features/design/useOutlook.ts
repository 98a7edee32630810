import { onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'
import { api, body, Problem, wordsOf } from '@/api/client'
import { designFields, missingMeasure, type DesignDraft, type Outlook } from './model'

/**
 * The live answer to a draft: what the design would show and cost. One question is under way at a time, and the newest
 * draft is asked next, so that a slider that is dragged is followed without a queue.
 */
export function useOutlook(trialId: () => number, draft: Ref<DesignDraft | null>) {
  const outlook = shallowRef<Outlook | null>(null)
  const trouble = ref('')
  const troubledField = ref<string | null>(null)
  let isAsking = false
  let isStale = false
  let isOver = false

  async function ask(): Promise<void> {
    if (!draft.value || isOver) return
    const missing = missingMeasure(draft.value)
    if (missing) {
      trouble.value = missing
      return
    }
    if (isAsking) {
      isStale = true
      return
    }
    isAsking = true
    isStale = false
    try {
      outlook.value = await body(
        api.POST('/api/trials/{trial_id}/outlook', {
          params: { path: { trial_id: trialId() } },
          body: designFields(draft.value),
        }),
      )
      trouble.value = ''
      troubledField.value = null
    } catch (error) {
      trouble.value = wordsOf(error)
      troubledField.value = error instanceof Problem ? error.field : null
    } finally {
      isAsking = false
      if (isStale) void ask()
    }
  }

  watch(draft, () => void ask(), { deep: true, immediate: true })
  onScopeDispose(() => {
    isOver = true
  })

  return { outlook, trouble, troubledField, ask }
}
