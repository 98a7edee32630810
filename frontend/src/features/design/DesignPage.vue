<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, body, wordsOf } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useKeptDraft } from '@/app/keptDraft'
import { useOpenTrial } from '@/app/openTrial'
import { shortFingerprint } from '@/kit/fingerprint'
import { speciesName } from '@/kit/species'
import PanelDrawing from '@/kit/PanelDrawing.vue'
import StateView from '@/kit/StateView.vue'
import { figureOf, inUnits, quantityOf } from '@/kit/units'
import DesignForm from './DesignForm.vue'
import DesignKey from './DesignKey.vue'
import {
  designDraftOf,
  designFields,
  drawnAreas,
  drawnSpots,
  missingMeasure,
  sidesOf,
  type DesignDraft,
} from './model'
import OutlookCost from './OutlookCost.vue'
import PowerCurve from './PowerCurve.vue'
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
const hasPanels = computed(() => standing.value?.boards.some((board) => board.panels.length) ?? false)
const names = computed(
  () => new Map(trial.value?.own_protocol.exposures.map((exposure) => [exposure.id, exposure.short_name])),
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
const power = computed(() => outlook.value?.outlook)
const shortBoards = computed(() => outlook.value?.boards.filter((board) => board.says) ?? [])
const samples = computed(() =>
  (outlook.value?.samples ?? []).flatMap((sample, index) =>
    sidesOf(sample.spots).map((side) => ({
      key: `${index}-${side}`,
      title: [
        (outlook.value?.samples.length ?? 0) > 1 ? `Panel ${index + 1}` : '',
        sidesOf(sample.spots).length > 1 ? side : '',
      ]
        .filter(Boolean)
        .join(', '),
      spots: drawnSpots(sample.spots, side, names.value),
      areas: drawnAreas(sample.sections),
    })),
  ),
)

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

    <section class="sheet answer" aria-live="polite" aria-label="What this design can show">
      <div v-if="outlookTrouble" class="words">
        <p class="late" role="alert">{{ inUnits(outlookTrouble) }}</p>
        <button class="press" @click="ask">Ask again</button>
      </div>
      <template v-else-if="outlook && power">
        <div class="words">
          <p class="first">{{ power.says[0] }}</p>
          <p v-if="outlook.spread_is_simulated" class="caution">Pooled from simulated readings.</p>
          <p v-for="says in power.says.slice(1)" :key="says">{{ says }}</p>
        </div>
        <PowerCurve :power="power" />
      </template>
      <p v-else-if="outlook" class="words">{{ outlook.troubles[0]?.says }}</p>
      <p v-else class="words quiet">Working out what it would show…</p>
      <OutlookCost v-if="outlook && !outlookTrouble" class="wide" :outlook="outlook" />
    </section>

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
        />
      </section>
      <section class="result" aria-label="How it would lie">
        <ul v-if="outlook?.troubles.length || shortBoards.length" class="troubles sheet" role="status">
          <li v-for="found in outlook?.troubles" :key="found.says">{{ inUnits(found.says) }}</li>
          <template v-if="!outlook?.troubles.length">
            <li v-for="board in shortBoards" :key="board.name">{{ inUnits(board.says) }}</li>
          </template>
        </ul>
        <ul v-if="outlook" class="plain-list">
          <li v-for="wood in outlook.species" :key="wood.species">{{ wood.says }}</li>
          <li v-for="says in outlook.says" :key="says">{{ says }}</li>
        </ul>
        <figure v-for="sample in samples" :key="sample.key">
          <figcaption class="quiet">
            {{ sample.title || 'A panel as it may be laid out' }} ·
            {{ figureOf('millimetres', outlook?.panel_length_mm ?? 0) }} ×
            {{ quantityOf('millimetres', outlook?.panel_width_mm ?? 0) }}
          </figcaption>
          <PanelDrawing
            code="sample"
            :species="trial.species[0] ?? 'beech'"
            :length-mm="outlook?.panel_length_mm ?? 400"
            :width-mm="outlook?.panel_width_mm ?? 150"
            :spots="sample.spots"
            :areas="sample.areas"
            :text-scale="sample.areas.length ? 0.85 : 1.1"
          />
        </figure>
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
        <p v-if="trouble" class="late" role="alert">{{ inUnits(trouble) }}</p>
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
.answer {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 440px);
  border-left: 4px solid var(--accent);
}
.answer > figure {
  padding: 14px 16px;
}
.words {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 8px;
  padding: 16px 20px;
}
.first {
  font-size: 20px;
  line-height: 1.35;
}
.wide {
  grid-column: 1 / -1;
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
.troubles {
  margin: 0;
  padding: 12px 16px 12px 32px;
  border-left: 4px solid var(--late);
}
.plain-list {
  margin: 0;
  padding-left: 18px;
}
figure {
  margin: 0;
}
.result .row :deep(.el-input-number) {
  width: 130px;
}
@media (max-width: 1100px) {
  .answer,
  .split {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
