<script setup lang="ts">
import { useSessionStorage } from '@vueuse/core'
import { useRouter } from 'vue-router'
import { api, body } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import StateView from '@/kit/StateView.vue'
import { EMPTY_DRAFT, fieldsOf, type TrialDraft } from './model'
import TrialForm from './TrialForm.vue'
import { useTrialForm } from './useTrialForm'

const router = useRouter()
// Kept until it is sent, so that a reload or a wrong click loses nothing.
const draft = useSessionStorage<TrialDraft>('nublet.new-trial', { ...EMPTY_DRAFT })
const { trouble, troubledField, isBusy, send } = useTrialForm()
const choices = useLoaded(async () => {
  const [reference, people] = await Promise.all([
    body(api.GET('/api/reference')),
    body(api.GET('/api/people')),
  ])
  if (draft.value.judges.length === 0) draft.value.judges = people.map((person) => person.id)
  return { reference, people }
})
const { data: known, trouble: loadTrouble } = choices

function make(): Promise<void> {
  return send(draft.value, async () => {
    const made = await body(api.POST('/api/trials', { body: fieldsOf(draft.value) }))
    draft.value = { ...EMPTY_DRAFT }
    await router.push(`/trials/${made.trial.id}/candidates`)
  })
}
</script>

<template>
  <form class="page" @submit.prevent="make">
    <header class="page-head">
      <div>
        <h1>New trial</h1>
        <p class="quiet">What do you want to know, on which wood, and who grades?</p>
      </div>
    </header>
    <StateView v-if="loadTrouble" kind="trouble" title="The form cannot be shown" :says="loadTrouble">
      <button type="button" class="press press-main" @click="choices.load">Try again</button>
    </StateView>
    <StateView v-else-if="!known" kind="busy" title="Fetching the choices…" />
    <template v-else>
      <TrialForm
        v-model="draft"
        :reference="known.reference"
        :people="known.people"
        :trouble="trouble"
        :troubled-field="troubledField"
      />
      <div class="row">
        <button class="press press-main" :disabled="isBusy">Make the trial</button>
        <RouterLink class="press" to="/trials">Back to the trials</RouterLink>
      </div>
    </template>
  </form>
</template>
