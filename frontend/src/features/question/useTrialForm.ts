import { ref } from 'vue'
import { Problem, wordsOf } from '@/api/client'
import { missingNumber, type TrialDraft } from './model'

/** Sending a trial's form: busy, trouble in words, and the field at fault. */
export function useTrialForm() {
  const trouble = ref('')
  const troubledField = ref<string | null>(null)
  const isBusy = ref(false)

  async function send(draft: TrialDraft, request: () => Promise<void>): Promise<void> {
    trouble.value = missingNumber(draft) ?? ''
    troubledField.value = null
    if (trouble.value) return
    isBusy.value = true
    try {
      await request()
    } catch (error) {
      trouble.value = wordsOf(error)
      troubledField.value = error instanceof Problem ? error.field : null
    } finally {
      isBusy.value = false
    }
  }

  return { trouble, troubledField, isBusy, send }
}
