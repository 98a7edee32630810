import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'

export type TrialSummary = Schemas['TrialSummary']

/** The trial whose stages the rail shows. Keepers only; judges never load one. */
export const useOpenTrial = defineStore('openTrial', () => {
  const summary = shallowRef<TrialSummary | null>(null)
  const reference = shallowRef<Schemas['Reference'] | null>(null)
  const trouble = ref('')

  async function load(id: number): Promise<void> {
    if (summary.value?.trial.id !== id) summary.value = null
    try {
      reference.value ??= await body(api.GET('/api/reference'))
      summary.value = await body(api.GET('/api/trials/{trial_id}', { params: { path: { trial_id: id } } }))
      trouble.value = ''
    } catch (error) {
      summary.value = null
      trouble.value = wordsOf(error)
    }
  }

  async function loadReference(): Promise<void> {
    reference.value ??= await body(api.GET('/api/reference'))
  }

  return { summary, reference, trouble, load, loadReference }
})
