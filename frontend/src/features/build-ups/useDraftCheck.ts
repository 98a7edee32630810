import { useDebounceFn } from '@vueuse/core'
import { ref, shallowRef, watch, type Ref } from 'vue'
import { api, body, wordsOf } from '@/api/client'
import { missingIn, recipeOf, type Assessment, type RecipeDraft } from './model'

/** Have a recipe looked over while it is built; a late answer never overwrites a newer one. */
export function useDraftCheck(trialId: () => number, draft: Ref<RecipeDraft | null>) {
  const assessment = shallowRef<Assessment | null>(null)
  const trouble = ref('')
  let run = 0

  async function check(): Promise<void> {
    const now = draft.value
    if (!now) return
    const mine = ++run
    const missing = missingIn(now)
    if (missing) {
      trouble.value = missing
      return
    }
    try {
      const path = { trial_id: trialId() }
      const found = await body(
        api.POST('/api/trials/{trial_id}/build-ups/check', {
          params: { path },
          body: { recipe: recipeOf(now) },
        }),
      )
      if (mine !== run) return
      assessment.value = found.assessment
      trouble.value = ''
    } catch (error) {
      if (mine === run) trouble.value = wordsOf(error)
    }
  }
  const checkSoon = useDebounceFn(check, 150)
  watch(draft, () => void checkSoon(), { deep: true })

  return { assessment, trouble, check }
}
