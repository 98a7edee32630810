<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, body } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useOpenTrial } from '@/app/openTrial'
import ChoiceBar from '@/kit/ChoiceBar.vue'
import StateView from '@/kit/StateView.vue'
import EvidenceMatrix from './EvidenceMatrix.vue'
import IntervalPlot from './IntervalPlot.vue'
import { sectionChoices, speciesChoices, speciesName } from '@/kit/species'
import { evidenceRows } from './model'
import PairsTable from './PairsTable.vue'
import ReadingsBehind from './ReadingsBehind.vue'

const route = useRoute()
const router = useRouter()
const open = useOpenTrial()
const trialId = computed(() => Number(route.params.trialId))
const species = computed(() => String(route.query.species ?? ''))
const look = computed(() => String(route.query.look ?? '24h'))
const section = computed(() => String(route.query.section ?? ''))

const evidence = useLoaded(
  () =>
    body(
      api.GET('/api/trials/{trial_id}/evidence', {
        params: {
          path: { trial_id: trialId.value },
          query: { look: look.value, species: species.value, section: section.value },
        },
      }),
    ),
  [species, look, section],
)
const { data: found, trouble } = evidence

const chosenTest = ref('')
const behind = ref<{ test: string; system: string } | null>(null)
const protocol = computed(() => open.summary?.trial.own_protocol)
const names = computed(() => new Map(protocol.value?.tests.map((item) => [item.id, item.short_name])))
const test = computed(
  () => found.value?.tests.find((item) => item.test === chosenTest.value) ?? found.value?.tests[0],
)
const rows = computed(() =>
  found.value && test.value ? evidenceRows(found.value.tests, test.value.test, found.value.control) : [],
)
const woods = computed(() => speciesChoices(found.value?.species_choices ?? []))
const title = (id: string) => names.value.get(id) ?? id

function show(query: { species?: string; look?: string; section?: string }): void {
  behind.value = null
  void router.replace({ query: { ...route.query, ...query } })
}
function openPoint(id: string, system: string): void {
  chosenTest.value = id
  behind.value = { test: id, system }
}
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>What the panels show</h1>
        <p v-if="found" class="quiet">
          {{ speciesName(found.species) }} · {{ found.n_boards }} boards · {{ found.judges.length }}
          {{ found.judges.length === 1 ? 'judge' : 'judges' }} · {{ found.n_readings }} readings
          <b v-if="found.is_simulated" class="caution">· simulated</b>
        </p>
      </div>
      <div class="row">
        <ChoiceBar
          label="Look"
          :options="protocol?.looks ?? []"
          :chosen="found?.look ?? look"
          @choose="(id) => show({ look: id })"
        />
        <ChoiceBar
          v-if="woods.length > 1"
          label="Wood"
          :options="woods"
          :chosen="found?.species ?? ''"
          @choose="(id) => show({ species: id })"
        />
        <ChoiceBar
          v-if="found?.section_choices.length"
          label="Section"
          :options="sectionChoices(found.section_choices)"
          :chosen="found.section"
          @choose="(id) => show({ section: id })"
        />
        <a
          class="press"
          :href="`/api/trials/${trialId}/readings.csv?section=${encodeURIComponent(found?.section ?? '')}`"
          download
          >Export CSV</a
        >
      </div>
    </header>

    <StateView v-if="trouble" kind="trouble" title="No evidence to show" :says="trouble">
      <RouterLink class="press press-main" :to="`/trials/${trialId}/read`">Grade panels</RouterLink>
      <button class="press" @click="evidence.load">Try again</button>
    </StateView>
    <StateView v-else-if="!found" kind="busy" title="Weighing the evidence…" />
    <template v-else-if="test">
      <p v-if="found.headline.wood" class="wood sheet" role="note">{{ found.headline.wood }}</p>
      <section class="headline sheet">
        <div>
          <b>Trust it?</b> {{ found.headline.trust }}
          <details v-if="found.headline.troubles.length">
            <summary class="caution">{{ found.headline.troubles.length }} to look at</summary>
            <ul>
              <li v-for="says in found.headline.troubles" :key="says">{{ says }}</li>
            </ul>
          </details>
        </div>
        <div><b>Told apart:</b> {{ found.headline.told_apart }}</div>
        <div><b>Not told apart:</b> {{ found.headline.not_told_apart }}</div>
      </section>

      <EvidenceMatrix
        :rows="rows"
        :tests="found.tests"
        :names="names"
        :chosen="test.test"
        :behind="behind"
        @choose="(id) => ((chosenTest = id), (behind = null))"
        @open="openPoint"
      />

      <div class="detail">
        <section class="sheet part">
          <IntervalPlot
            :test="test"
            :title="title(test.test)"
            :behind="behind?.system ?? null"
            @open="(system) => openPoint(test?.test ?? '', system)"
          />
        </section>
        <ReadingsBehind
          v-if="behind"
          :trial-id="trialId"
          :test="behind.test"
          :system="behind.system"
          :look="found.look"
          :species="found.species"
          :section="found.section"
          :title="title(behind.test)"
          @close="behind = null"
        />
        <section v-else class="sheet part">
          <PairsTable :test="test" :title="title(test.test)" />
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.headline {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
}
.wood {
  margin: 0;
  padding: 12px 16px;
  border-left: 4px solid var(--caution);
  font-weight: 600;
}
.headline > div {
  padding: 12px 16px;
  border-left: 1px solid var(--hairline);
}
.headline > div:first-child {
  border-left: 0;
}
summary {
  min-height: 32px;
  font-weight: 600;
  cursor: pointer;
}
.headline ul {
  margin: 0;
  padding-left: 18px;
}
.detail {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 6fr);
  gap: 20px;
  align-items: start;
}
.part {
  padding: 16px;
}
@media (max-width: 1100px) {
  .detail,
  .headline {
    grid-template-columns: minmax(0, 1fr);
  }
  .headline > div {
    border-left: 0;
    border-top: 1px solid var(--hairline);
  }
}
</style>
