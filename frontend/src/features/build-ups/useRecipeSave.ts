import { ref } from 'vue'
import { api, body, wordsOf } from '@/api/client'
import type { KeptDraft } from '@/app/keptDraft'
import { draftOf, missingIn, recipeOf, type BuildUpDetail, type BuildUps, type RecipeDraft } from './model'

/** Sending a recipe: what is missing or refused in words, and what became of it. */
export function useRecipeSave(options: {
  trialId: () => number
  buildUp: () => BuildUpDetail
  kept: KeptDraft<RecipeDraft>
  saved: (view: BuildUps, said: string) => void
}) {
  const trouble = ref('')
  const isBusy = ref(false)

  async function save(): Promise<void> {
    const draft = options.kept.draft.value
    if (!draft) return
    trouble.value = missingIn(draft) ?? ''
    if (trouble.value) return
    isBusy.value = true
    const buildUp = options.buildUp()
    const path = { trial_id: options.trialId(), build_up_id: buildUp.id }
    try {
      const changed = await body(
        api.PUT('/api/trials/{trial_id}/build-ups/{build_up_id}', {
          params: { path },
          body: { name: draft.name, recipe: recipeOf(draft) },
        }),
      )
      const made = changed.made_for_shelf
      // A trial that has started keeps its own version, so the editor goes back to it.
      options.kept.sent(made === null ? draft : draftOf(buildUp))
      options.saved(
        changed.view,
        made === null
          ? `${draft.name} is saved.`
          : `Version ${made} of ${draft.name} is on the shelf for later trials. This trial keeps version ${buildUp.version}.`,
      )
    } catch (error) {
      trouble.value = wordsOf(error)
    } finally {
      isBusy.value = false
    }
  }

  return { trouble, isBusy, save }
}
