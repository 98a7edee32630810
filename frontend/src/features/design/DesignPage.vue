<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, body, wordsOf } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useKeptDraft } from '@/app/keptDraft'
import { useOpenTrial } from '@/app/openTrial'
import { shortFingerprint } from '@/kit/fingerprint'
import { speciesName } from '@/kit/species'
import StateView from '@/kit/StateView.vue'
import DesignAnswer from './DesignAnswer.vue'
import DesignForm from './DesignForm.vue'
import DesignKey from './DesignKey.vue'
import DesignSamples from './DesignSamples.vue'
import { designDraftOf, designFields, missingMeasure, type DesignDraft } from './model'
import { useOutlook } from './useOutlook'

const open = useOpenTrial()
const trial = computed(() => open.summary?.trial)
const path = computed(() => ({ trial_id: trial.value?.id ?? 0 }))
const design = useLoaded(() =>
  body(api.GET('/api/trials/{trial_id}/design', { params: { path: path.value } })),
)
const { data: standing, trouble: loadTrouble } = design

const kept = useKeptDraft<DesignDraft>()
const { draft, isChanged } = kept
watch(
  trial,
  (now) => {
    if (!now) return
    kept.show(`design.${now.id}`, designDraftOf(now))
    // What was being changed when the trial started is no longer to be had: show what stands.
    if (now.started_at != null) kept.leave()
  },
  { immediate: true },
)
const { outlook, trouble: outlookTrouble, ask } = useOutlook(() => path.value.trial_id, draft)

const trouble = ref('')
const isBusy = ref(false)
const isFixed = computed(() => trial.value?.started_at != null)
const hasPanels = computed(() =>
  Boolean(standing.value?.slips.length || standing.value?.boards.some((board) => board.panels.length)),
)
const names = computed(
  () => new Map(trial.value?.own_protocol.tests.map((exposure) => [exposure.id, exposure.short_name])),
)
/** "4 build-ups with the control × elm and sycamore × 2 sections". */
const factors = computed(() => {
  const names = new Map(open.reference?.species.map((wood) => [wood.id, wood.name]))
  const woods = trial.value?.species.map((id) => names.get(id) ?? speciesName(id)) ?? []
  const nSections = draft.value?.sections.length ?? 0
  return [
    `${trial.value?.build_ups.length ?? 0} build-ups with the control`,
    woods.join(' and ').toLowerCase() || 'no wood yet',
    ...(nSections ? [`${nSections} sections`] : []),
  ].join(' × ')
})
async function attempt(request: () => Promise<void>): Promise<void> {
  isBusy.value = true
  trouble.value = draft.value ? (missingMeasure(draft.value) ?? '') : ''
  try {
    if (!trouble.value) await request()
  } catch (error) {
    trouble.value = wordsOf(error)
  } finally {
    isBusy.value = false
  }
}

async function save(): Promise<void> {
  if (!draft.value || !isChanged.value) return
  const fields = designFields(draft.value)
  open.summary = await body(
    api.PATCH('/api/trials/{trial_id}', { params: { path: path.value }, body: fields }),
  )
  kept.sent(designDraftOf(open.summary.trial))
}

const keep = () =>
  attempt(async () => {
    await save()
    await design.load()
  })
const draw = () =>
  attempt(async () => {
    await save()
    standing.value = await body(api.POST('/api/trials/{trial_id}/design', { params: { path: path.value } }))
    if (trial.value) await open.load(trial.value.id)
  })
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>Design</h1>
        <p v-if="trial" class="quiet">
          {{ factors }}, lots drawn board by board. Woods are chosen under
          <RouterLink :to="`/trials/${trial.id}/question`">Question</RouterLink>.
        </p>
      </div>
      <div class="row">
        <span v-if="hasPanels && standing" class="quiet print"
          ><template v-if="standing.seed != null"
            >seed <span class="mono">{{ standing.seed }}</span> · </template
          >drawn as
          <span class="mono" :title="`Fingerprint of the design, SHA-256: ${standing.fingerprint}`">{{
            shortFingerprint(standing.fingerprint)
          }}</span></span
        >
        <RouterLink v-if="hasPanels" class="press press-main" :to="`/trials/${path.trial_id}/prepare`"
          >On to Prepare</RouterLink
        >
      </div>
    </header>

    <DesignAnswer :outlook="outlook" :trouble="outlookTrouble" @ask="ask" />

    <div v-if="draft && trial" class="split">
      <section aria-label="What the design is made of">
        <p v-if="isFixed" class="quiet fixed">
          The trial has started: this stands. What goes otherwise is recorded under Prepare.
        </p>
        <DesignForm
          v-model="draft"
          :build-ups="trial.build_ups"
          :usual-sd="outlook?.spread.sd ?? 0.6"
          :is-fixed="isFixed"
          :has-slips="trial.own_protocol.tests.some((test) => test.site === 'slip')"
        />
      </section>
      <section class="result" aria-label="How it would lie">
        <DesignSamples :outlook="outlook" :species="trial.species[0] ?? 'beech'" :names="names" />
        <div v-if="!isFixed" class="row">
          <button class="press press-main" :disabled="isBusy" @click="draw">
            {{ hasPanels ? 'Draw lots again' : 'Draw lots' }}
          </button>
          <button v-if="isChanged" class="press" :disabled="isBusy" @click="keep">Keep, draw later</button>
          <button v-if="isChanged" class="press" :disabled="isBusy" @click="kept.leave">Leave changes</button>
        </div>
        <p v-if="hasPanels && isChanged && !isFixed" class="caution">
          The panels below are of the design as it was. Keeping or drawing discards them.
        </p>
        <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
      </section>
    </div>

    <StateView v-if="loadTrouble" kind="trouble" title="The design cannot be shown" :says="loadTrouble">
      <button class="press press-main" @click="design.load">Try again</button>
    </StateView>
    <DesignKey v-else-if="standing && hasPanels" :design="standing" :names="names" />
  </div>
</template>

<style scoped>
.print {
  font-size: 13px;
}
.split {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 28px;
  align-items: start;
}
.result {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.fixed {
  margin-bottom: 12px;
}
.result .row :deep(.el-input-number) {
  width: 130px;
}
@media (max-width: 1100px) {
  .split {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
