<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useKeptDraft } from '@/app/keptDraft'
import CrossingFactors from './CrossingFactors.vue'
import CrossingGrid from './CrossingGrid.vue'
import { crossingWords, draftOfCrossing, type CrossingDraft } from './crossing'
import type { BuildUpDetail } from './model'

/** What is varied on purpose: levels are pressed, the grid shows every cell, and build-ups and sections are made of it. */
const props = defineProps<{
  trialId: number
  buildUps: readonly BuildUpDetail[]
  families: readonly Schemas['Family'][]
}>()
const emit = defineEmits<{ made: [summary: Schemas['TrialSummary'], words: string] }>()

const { data, load } = useLoaded(() =>
  body(api.GET('/api/trials/{trial_id}/crossing', { params: { path: { trial_id: props.trialId } } })),
)
const kept = useKeptDraft<CrossingDraft>()
const { draft } = kept
const trouble = ref('')
const isBusy = ref(false)
const isOpen = ref(false)
const says = computed(() => (draft.value ? crossingWords(draft.value) : ''))

watch(data, (found) => {
  if (!found) return
  kept.show(`trial.${props.trialId}.crossing`, draftOfCrossing(found.crossing, props.buildUps))
  isOpen.value ||= Boolean(found.crossing.factors?.length) || kept.isChanged.value
})

async function make(): Promise<void> {
  if (!draft.value) return
  isBusy.value = true
  trouble.value = ''
  const words = `Crossed: ${says.value}.`
  try {
    const summary = await body(
      api.PUT('/api/trials/{trial_id}/crossing', {
        params: { path: { trial_id: props.trialId } },
        body: draft.value,
      }),
    )
    kept.sent(draft.value)
    await load()
    emit('made', summary, words)
  } catch (error) {
    trouble.value = wordsOf(error)
  } finally {
    isBusy.value = false
  }
}
</script>

<template>
  <form v-if="draft" class="sheet crossing" aria-labelledby="crossing" @submit.prevent="make">
    <header class="row">
      <h2 id="crossing">Factors</h2>
      <button v-if="!isOpen" type="button" class="press" @click="isOpen = true">Cross factors</button>
      <template v-else>
        <p class="says">{{ says }}</p>
        <button class="press press-main" :disabled="isBusy">Make them</button>
      </template>
    </header>
    <p v-if="!isOpen" class="quiet">
      Vary preparation, finish, coats and top layer on purpose: every combination becomes a build-up or a
      section.
    </p>
    <template v-else>
      <CrossingFactors
        v-model="draft"
        :build-ups="buildUps"
        :families="families"
        :preparations="data?.preparations ?? []"
      />
      <CrossingGrid v-if="draft.factors.length" v-model="draft" />
      <p class="quiet">
        Press a name, or a cell, to take it out. Candidates that become levels are replaced by what is made.
      </p>
    </template>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
  </form>
</template>

<style scoped>
.crossing {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 16px 18px;
}
.says {
  font-size: 17px;
  font-weight: 600;
}
</style>
