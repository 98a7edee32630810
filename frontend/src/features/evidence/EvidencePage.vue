<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, body } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useOpenTrial } from '@/app/openTrial'
import { kappaWords } from '@/kit/agreement'
import { responseOf } from '@/kit/responses'
import ChoiceBar from '@/kit/ChoiceBar.vue'
import StateView from '@/kit/StateView.vue'
import CrossGrid from './CrossGrid.vue'
import { crossingOf } from './crossing'
import EvidenceHead from './EvidenceHead.vue'
import EvidenceMatrix from './EvidenceMatrix.vue'
import IntervalPlot from './IntervalPlot.vue'
import { sectionChoices, speciesChoices, speciesName } from '@/kit/species'
import { evidenceRows, groupedRows, keyOf, titleOf } from './model'
import EverythingBoard from './EverythingBoard.vue'
import LooksOverTime from './LooksOverTime.vue'
import JudgesBox from './JudgesBox.vue'
import OtherwisePart from './OtherwisePart.vue'
import PairsTable from './PairsTable.vue'
import UnblindBox from './UnblindBox.vue'
import ReadingsBehind from './ReadingsBehind.vue'
import SharesTable from './SharesTable.vue'

const route = useRoute()
const router = useRouter()
const open = useOpenTrial()
const trialId = computed(() => Number(route.params.trialId))
const species = computed(() => String(route.query.species ?? ''))
const look = computed(() => String(route.query.look ?? '24h'))
const section = computed(() => String(route.query.section ?? ''))
const response = computed(() => String(route.query.response ?? ''))

const evidence = useLoaded(
  () =>
    body(
      api.GET('/api/trials/{trial_id}/evidence', {
        params: {
          path: { trial_id: trialId.value },
          query: {
            look: look.value,
            species: species.value,
            section: section.value,
            response: response.value,
          },
        },
      }),
    ),
  [species, look, section, response],
)
const { data: found, trouble } = evidence
const isAll = computed(
  () => route.query.show === 'everything' && (found.value?.response_choices.length ?? 0) > 1,
)

const chosenTest = ref('')
const behind = ref<{ test: string; system: string; section: string } | null>(null)
const protocol = computed(() => open.summary?.trial.own_protocol)
const names = computed(
  () =>
    new Map([
      ...(protocol.value?.tests ?? []).map((item) => [item.id, item.short_name] as const),
      ...(protocol.value?.ladders ?? []).map((item) => [item.id, item.name] as const),
    ]),
)
const test = computed(
  () => found.value?.tests.find((item) => keyOf(item) === chosenTest.value) ?? found.value?.tests[0],
)
const grouping = ref('')
const groupings = computed(() => [
  { id: '', name: 'Mean' },
  // Where each build-up is a level of its own there is nothing to put together.
  ...(found.value?.factors ?? [])
    .filter((each) => each.systems.length > each.levels.length)
    .map((each) => ({ id: each.factor, name: each.factor })),
])
const rows = computed(() =>
  found.value && test.value
    ? groupedRows(
        evidenceRows(found.value.tests, keyOf(test.value), found.value.control, found.value.benchmarks),
        found.value.factors.find((each) => each.factor === grouping.value),
      )
    : [],
)
const woods = computed(() => speciesChoices(found.value?.species_choices ?? []))
const exported = computed(() => {
  const own = found.value && found.value.response !== 'grade' ? `&response=${found.value.response}` : ''
  return `section=${encodeURIComponent(found.value?.section ?? '')}${own}`
})
const title = (each: { test: string; section?: string | null }) => titleOf(names.value, each)

/** Under which look a test was weighed, where it is not the one that was asked for. */
const otherLook = computed(() => {
  const asked = looks.value.find((each) => each.id === found.value?.look)?.name
  const at = found.value?.looks.find((each) => each.test === test.value?.test)?.name
  return at && at !== asked ? at : ''
})
const looks = computed(() => protocol.value?.looks ?? [])

interface Shown {
  species?: string
  look?: string
  section?: string
  response?: string
  show?: string
}
function show(query: Shown): void {
  behind.value = null
  void router.replace({ query: { ...route.query, ...query } })
}
function openOne(response: string, test: string): void {
  chosenTest.value = test
  show({ response, show: undefined })
}
function openPoint(id: string, system: string, onSection = ''): void {
  chosenTest.value = id
  behind.value = { test: id, system, section: onSection }
}
/** What is worked out over all looks, and what is chosen between two, has none of its own. */
const hasLooks = computed(
  () => test.value?.told_as !== 'preference' && test.value?.told_as !== 'time' && !test.value?.ladder,
)
const crossing = computed(() =>
  test.value ? crossingOf(test.value, found.value?.factors ?? [], found.value?.section_choices) : null,
)
/** Tests to choose from where the crossing stands in the place of the board of all tests. */
const testChoices = computed(() =>
  (found.value?.tests ?? []).map((each) => ({ id: keyOf(each), name: title(each) })),
)
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>What the panels show</h1>
        <p v-if="found" class="quiet">
          {{ speciesName(found.species) }} · {{ found.n_boards }} boards<template v-if="found.judges.length">
            · {{ found.judges.length }} {{ found.judges.length === 1 ? 'judge' : 'judges' }}</template
          >
          · {{ found.n_readings }}
          {{ responseOf(found.response).form === 'derived' ? 'values worked out' : 'readings' }}
          <b v-if="found.is_simulated" class="caution">· simulated</b>
        </p>
      </div>
      <div class="row">
        <ChoiceBar
          v-if="(found?.response_choices.length ?? 0) > 1"
          label="Show"
          :options="[
            { id: 'one', name: 'One at a time' },
            { id: 'everything', name: 'Everything' },
          ]"
          :chosen="isAll ? 'everything' : 'one'"
          @choose="(id) => show({ show: id === 'one' ? undefined : id })"
        />
        <ChoiceBar
          v-if="
            !isAll && (found?.response_choices.length ?? 0) > 1 && (found?.response_choices.length ?? 0) < 5
          "
          label="Read"
          :options="found?.response_choices ?? []"
          :chosen="found?.response ?? ''"
          @choose="(id) => show({ response: id })"
        />
        <el-select
          v-else-if="!isAll && (found?.response_choices.length ?? 0) > 1"
          class="response"
          aria-label="Read"
          :model-value="found?.response"
          @change="(id: string) => show({ response: id })"
        >
          <el-option
            v-for="each in found?.response_choices"
            :key="each.id"
            :value="each.id"
            :label="each.name"
          />
        </el-select>
        <ChoiceBar
          v-if="looks.length < 5"
          label="Look"
          :options="looks"
          :chosen="found?.look ?? look"
          @choose="(id) => show({ look: id })"
        />
        <el-select
          v-else
          class="response"
          aria-label="Look"
          :model-value="found?.look ?? look"
          @change="(id: string) => show({ look: id })"
        >
          <el-option v-for="each in looks" :key="each.id" :value="each.id" :label="each.name" />
        </el-select>
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
          :options="[{ id: '', name: 'All' }, ...sectionChoices(found.section_choices)]"
          :chosen="found.section"
          @choose="(id) => show({ section: id })"
        />
        <ChoiceBar
          v-if="found?.tests.length && (isAll || !crossing) && groupings.length > 1"
          label="Put together by"
          :options="groupings"
          :chosen="grouping"
          @choose="(id) => (grouping = id)"
        />
        <a class="press" :href="`/api/trials/${trialId}/readings.csv?${exported}`" download>Export CSV</a>
        <a
          v-if="(found?.response_choices.length ?? 0) > 1"
          class="press"
          :href="`/api/trials/${trialId}/readings.csv?${exported}&response=all`"
          download
          >Export all</a
        >
      </div>
    </header>

    <StateView v-if="trouble" kind="trouble" title="No evidence to show" :says="trouble">
      <RouterLink class="press press-main" :to="`/trials/${trialId}/read`">Grade panels</RouterLink>
      <button class="press" @click="evidence.load">Try again</button>
    </StateView>
    <StateView v-else-if="!found" kind="busy" title="Weighing the evidence…" />
    <EverythingBoard
      v-else-if="isAll"
      :trial-id="trialId"
      :look="look"
      :species="species"
      :section="section"
      :grouping="grouping"
      :names="names"
      @open="openOne"
    />
    <SharesTable v-else-if="found.shares.length" :found="found" :names="names" />
    <template v-else-if="test">
      <EvidenceHead :found="found" />

      <p v-if="found.practice.length" class="quiet">
        In practice, on marks that were drawn:
        <template v-for="(each, n) in found.practice" :key="each.judge"
          >{{ n ? '; ' : '' }}{{ each.judge }} agrees {{ kappaWords(each.kappa) }},
          {{ each.n_marks }} marks</template
        >.
      </p>
      <p v-if="otherLook" class="quiet">{{ title(test) }} is weighed at its own look: {{ otherLook }}.</p>
      <template v-if="crossing">
        <ChoiceBar
          v-if="testChoices.length > 1"
          label="Test"
          :options="testChoices"
          :chosen="keyOf(test)"
          @choose="(id) => ((chosenTest = id), (behind = null))"
        />
        <CrossGrid
          :response="found.response"
          :test="test"
          :crossing="crossing"
          :title="title(test)"
          :open="behind"
          @open="(system, on) => test && openPoint(keyOf(test), system, on)"
        />
      </template>
      <EvidenceMatrix
        v-else
        :response="found.response"
        :rows="rows"
        :tests="found.tests"
        :names="names"
        :chosen="keyOf(test)"
        :behind="behind"
        @choose="(id) => ((chosenTest = id), (behind = null))"
        @open="openPoint"
      />

      <div class="detail">
        <section class="sheet part">
          <IntervalPlot
            :test="test"
            :response="found.response"
            :title="title(test)"
            :behind="behind?.system ?? null"
            @open="(system) => test && openPoint(keyOf(test), system)"
          />
        </section>
        <ReadingsBehind
          v-if="behind"
          :trial-id="trialId"
          :test="test.test"
          :system="behind.system"
          :look="found.look"
          :species="found.species"
          :section="behind.section || test.section || found.section"
          :response="found.response"
          :title="title(test)"
          @changed="evidence.load"
          @close="behind = null"
        />
        <section v-else class="sheet part">
          <PairsTable :test="test" :response="found.response" :title="title(test)" />
        </section>
      </div>
      <LooksOverTime
        v-if="hasLooks"
        :trial-id="trialId"
        :test="test.test"
        :response="found.response"
        :species="found.species"
        :section="test.section || found.section"
        :title="title(test)"
        :control="found.control"
      />
    </template>
    <OtherwisePart
      v-if="!isAll && found?.left_out.length"
      :trial-id="trialId"
      :query="{ look, species, section, response }"
      :left-out="found.left_out"
      :names="names"
      :response="found.response"
    />
    <JudgesBox v-if="!isAll && found?.agreement && found.judges.length" :found="found.agreement" />
    <UnblindBox @told="evidence.load" />
  </div>
</template>

<style scoped>
.response {
  width: 200px;
}
.detail {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 20px;
  align-items: start;
}
@media (max-width: 1100px) {
  .detail {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
