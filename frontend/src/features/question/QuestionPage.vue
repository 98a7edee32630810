<script setup lang="ts">
import { watch } from 'vue'
import { api, body } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { askBeforeLeaving } from '@/app/askBeforeLeaving'
import { useKeptDraft } from '@/app/keptDraft'
import { useOpenTrial } from '@/app/openTrial'
import StateView from '@/kit/StateView.vue'
import { draftOf, EMPTY_DRAFT, fieldsOf, type TrialDraft } from './model'
import TrialForm from './TrialForm.vue'
import { useTrialForm } from './useTrialForm'

const open = useOpenTrial()
const { draft, isChanged, show, sent, leave } = useKeptDraft<TrialDraft>()
watch(
  () => open.summary?.trial.id,
  () => {
    const trial = open.summary?.trial
    if (trial) show(`question.${trial.id}`, draftOf(trial))
  },
  { immediate: true },
)
const { trouble, troubledField, isBusy, send } = useTrialForm()
const { data: people, trouble: peopleTrouble, load } = useLoaded(() => body(api.GET('/api/people')))

function save(): Promise<void> {
  const own = draft.value
  return send(own ?? EMPTY_DRAFT, async () => {
    const trialId = open.summary?.trial.id
    if (!trialId || !own) return
    open.summary = await body(
      api.PATCH('/api/trials/{trial_id}', {
        params: { path: { trial_id: trialId } },
        body: fieldsOf(own),
      }),
    )
    sent(draftOf(open.summary.trial))
  })
}

askBeforeLeaving(isChanged)
</script>

<template>
  <form class="page" @submit.prevent="save">
    <header class="page-head">
      <div>
        <h1>{{ open.summary?.trial.name }}</h1>
        <p class="quiet">The question, the use, the wood and the protocol</p>
      </div>
      <span v-if="open.summary?.trial.is_simulated" class="caution">Demo: every reading is simulated</span>
    </header>
    <StateView v-if="peopleTrouble" kind="trouble" title="The form cannot be shown" :says="peopleTrouble">
      <button type="button" class="press press-main" @click="load">Try again</button>
    </StateView>
    <StateView v-else-if="!people || !open.reference || !draft" kind="busy" title="Fetching the choices…" />
    <template v-else>
      <TrialForm
        v-model="draft"
        :reference="open.reference"
        :people="people"
        :own-protocol="open.summary?.trial.own_protocol"
        :trial-id="open.summary?.trial.id"
        :trouble="trouble"
        :troubled-field="troubledField"
        :is-fixed="open.summary?.trial.started_at != null"
      />
      <div class="row">
        <button class="press press-main" :disabled="isBusy || !isChanged">Save</button>
        <span class="quiet" role="status">{{ isChanged ? 'Not saved yet' : 'Saved' }}</span>
        <button v-if="isChanged" type="button" class="press" @click="leave">Leave as it was</button>
        <RouterLink v-if="!isChanged" class="press" :to="`/trials/${open.summary?.trial.id}/candidates`"
          >On to the candidates</RouterLink
        >
      </div>
    </template>
  </form>
</template>
