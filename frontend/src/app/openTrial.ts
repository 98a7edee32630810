import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, body, type Schemas } from '@/api/client'
import { askOrKept } from '@/api/kept'
import { useLoaded } from '@/api/useLoaded'

export type TrialSummary = Schemas['TrialSummary']

/** The trial whose stages the rail shows, and what there is to choose from. Keepers only; judges never load one. */
export const useOpenTrial = defineStore('openTrial', () => {
  const id = ref(0)
  const choices = useLoaded(() => askOrKept('reference', () => body(api.GET('/api/reference'))), [], {
    isLazy: true,
  })
  const trial = useLoaded(
    () =>
      askOrKept(`trial ${id.value}`, () =>
        body(api.GET('/api/trials/{trial_id}', { params: { path: { trial_id: id.value } } })),
      ),
    [],
    { isLazy: true },
  )
  const trouble = computed(() => trial.trouble.value || choices.trouble.value)

  async function loadReference(): Promise<void> {
    if (!choices.data.value && !choices.isLoading.value) await choices.load()
  }

  async function load(wanted: number): Promise<void> {
    if (id.value !== wanted) trial.data.value = null
    id.value = wanted
    // One does not wait for the other: what can be chosen is for the forms.
    const [, isKnown] = await Promise.all([loadReference(), trial.load()])
    if (!isKnown && trial.trouble.value) trial.data.value = null
  }

  return { summary: trial.data, reference: choices.data, trouble, load, loadReference }
})
