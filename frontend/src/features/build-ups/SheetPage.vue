<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, body } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useOpenTrial } from '@/app/openTrial'
import LayerSection from '@/kit/LayerSection.vue'
import StateView from '@/kit/StateView.vue'
import { figureOf, quantityOf, said } from '@/kit/units'
import BuildUpFigures from './BuildUpFigures.vue'

const route = useRoute()
const open = useOpenTrial()
const path = computed(() => ({
  trial_id: Number(route.params.trialId),
  build_up_id: Number(route.params.buildUpId),
}))
const {
  data: sheet,
  trouble,
  load,
} = useLoaded(
  () =>
    body(api.GET('/api/trials/{trial_id}/build-ups/{build_up_id}/sheet', { params: { path: path.value } })),
  [path],
)
const cautions = computed(() => new Map(sheet.value?.cautions.map((caution) => [caution.id, caution])))

function windowWords(low: number | null | undefined, high: number | null | undefined, unit: string): string {
  if (low == null) return ''
  return high == null ? `from ${low} ${unit} on` : `${low} to ${high} ${unit}`
}
function print(): void {
  window.print()
}
</script>

<template>
  <div class="page">
    <StateView v-if="trouble" kind="trouble" title="This sheet cannot be shown" :says="trouble">
      <button class="press press-main" @click="load">Try again</button>
    </StateView>
    <article v-else-if="sheet" class="sheet paper">
      <header class="page-head">
        <div>
          <h1>{{ sheet.name }}, version {{ sheet.version }}</h1>
          <p class="quiet">
            {{ sheet.trial }} · {{ sheet.n_panels }} panels of
            {{ figureOf('millimetres', sheet.panel_length_mm) }} ×
            {{ quantityOf('millimetres', sheet.panel_width_mm) }} · {{ sheet.woods.join(', ') }}
          </p>
        </div>
        <div class="row no-print">
          <RouterLink
            class="press"
            :to="{ path: `/trials/${path.trial_id}/build-ups`, query: { build_up: path.build_up_id } }"
            >Back</RouterLink
          >
          <button class="press press-main" @click="print">Print</button>
        </div>
      </header>
      <p class="keyword">Holds the key: keep it from whoever grades.</p>
      <p v-if="sheet.is_simulated" class="quiet">A trial of the demo; its readings are simulated.</p>
      <p v-if="sheet.experiment_reason" class="caution">Declared experiment: {{ sheet.experiment_reason }}</p>
      <div class="top">
        <LayerSection
          class="drawing"
          size="large"
          :layers="sheet.layers"
          :species="open.summary?.trial.species[0]"
        />
        <BuildUpFigures :assessment="sheet.assessment" />
      </div>
      <ol class="steps">
        <li v-for="(step, index) in sheet.steps" :key="index" class="step">
          <span class="box" aria-hidden="true" />
          <div class="what">
            <strong>{{ step.title }}</strong>
            <p v-if="step.says.length">{{ said(step.says) }}</p>
            <p v-for="id in step.cautions" :key="id" class="mind">
              <strong>{{ cautions.get(id)?.says }}</strong> {{ cautions.get(id)?.do }}
            </p>
          </div>
          <div class="how-much mono">
            <p v-for="amount in step.amounts" :key="amount.what">
              {{ amount.what }} <b>{{ quantityOf(amount.quantity, amount.amount) }}</b>
            </p>
            <p v-if="step.window_min">{{ windowWords(step.window_min[0], step.window_min[1], 'min') }}</p>
            <p v-if="step.window_h">{{ windowWords(step.window_h[0], step.window_h[1], 'h') }}</p>
          </div>
        </li>
      </ol>
      <p class="quiet">{{ sheet.defers }} Quantities hold 15 % for cup and cloth.</p>
    </article>
    <StateView v-else kind="busy" title="Writing the sheet…" />
  </div>
</template>

<style scoped>
.paper {
  display: flex;
  flex-direction: column;
  gap: 12px;
  max-width: 900px;
  padding: 24px 28px;
}
.keyword {
  font-weight: 600;
}
.top {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.4fr);
  gap: 20px;
  align-items: center;
}
.drawing {
  height: 110px;
  border: 1px solid var(--hairline);
}
.steps {
  margin: 0;
  padding: 0;
  list-style: none;
}
.step {
  display: grid;
  grid-template-columns: 22px minmax(0, 1fr) 210px;
  gap: 14px;
  padding: 9px 0;
  border-top: 1px solid var(--hairline);
  break-inside: avoid;
}
.box {
  width: 20px;
  height: 20px;
  border: 1.5px solid var(--ink);
}
.how-much {
  text-align: right;
}
.mind {
  margin-top: 3px;
  padding-left: 8px;
  border-left: 3px solid var(--due);
  font-size: 14px;
}
@media print {
  .page {
    padding: 0;
  }
  .paper {
    max-width: none;
    padding: 0;
    border: 0;
    background: none;
    font-size: 13px;
  }
  .no-print {
    display: none;
  }
}
@media (max-width: 700px) {
  .step {
    grid-template-columns: 22px minmax(0, 1fr);
  }
  .how-much {
    grid-column: 2;
    text-align: left;
  }
}
</style>
