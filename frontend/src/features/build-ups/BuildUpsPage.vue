<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, body, wordsOf, type Schemas } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useOpenTrial } from '@/app/openTrial'
import LayerSection from '@/kit/LayerSection.vue'
import StateView from '@/kit/StateView.vue'
import { quantityOf } from '@/kit/units'
import BareControls from './BareControls.vue'
import CrossingPanel from './CrossingPanel.vue'
import CrossingStands from './CrossingStands.vue'
import { freeName, type BuildUpDetail, type BuildUps } from './model'
import RecipeEditor from './RecipeEditor.vue'
import SchoolsBar from './SchoolsBar.vue'
import SectionsPanel from './SectionsPanel.vue'
import ShoppingList from './ShoppingList.vue'

const open = useOpenTrial()
const route = useRoute()
const router = useRouter()
const trialId = computed(() => open.summary?.trial.id ?? 0)
const species = computed(() => open.summary?.trial.species[0])

const { data, trouble, load } = useLoaded(() =>
  body(api.GET('/api/trials/{trial_id}/build-ups', { params: { path: { trial_id: trialId.value } } })),
)
const view = shallowRef<BuildUps | null>(null)
watch(data, (found) => (view.value = found))
// Follows each change of a recipe.
const { data: shopping, load: shop } = useLoaded(
  () => body(api.GET('/api/trials/{trial_id}/shopping', { params: { path: { trial_id: trialId.value } } })),
  [],
  { isLazy: true },
)
watch(view, (now) => now && void shop())
const said = ref('')
const copyTrouble = ref('')

const candidates = computed(() => view.value?.build_ups.filter((row) => !row.is_control) ?? [])
const chosen = computed(
  () => candidates.value.find((row) => String(row.id) === route.query.build_up) ?? candidates.value[0],
)

async function choose(row: BuildUpDetail): Promise<void> {
  said.value = ''
  await router.replace({ query: { build_up: String(row.id) } })
}
async function take(now: BuildUps, words: string): Promise<void> {
  view.value = now
  said.value = words
  // The rail and the other stages show names and layers too.
  await open.load(trialId.value)
}
/** A variant to begin from: the same recipe under a name that is free in this trial. */
async function copy(row: BuildUpDetail): Promise<void> {
  const taken = new Set(candidates.value.map((one) => one.name))
  const name = freeName(row.name, taken)
  const path = { trial_id: trialId.value }
  said.value = copyTrouble.value = ''
  try {
    open.summary = await body(
      api.POST('/api/trials/{trial_id}/build-ups', {
        params: { path },
        body: { version: row.version_id, name },
      }),
    )
    await load()
    const made = candidates.value.find((one) => one.name === name)
    if (made) await choose(made)
    said.value = `${name} is a build-up of its own: change what is to differ.`
  } catch (error) {
    copyTrouble.value = wordsOf(error)
  }
}
const isBusy = ref(false)
/** Add or take away a bare panel; the rail and the design follow. */
async function changeBare(request: () => Promise<Schemas['TrialSummary']>, words: string): Promise<void> {
  said.value = copyTrouble.value = ''
  isBusy.value = true
  try {
    open.summary = await request()
    await load()
    said.value = words
  } catch (error) {
    copyTrouble.value = wordsOf(error)
  } finally {
    isBusy.value = false
  }
}
const nCrossed = ref(0)
async function crossed(summary: Schemas['TrialSummary'], words: string): Promise<void> {
  open.summary = summary
  await load()
  nCrossed.value += 1
  said.value = words
}
async function sectionsChanged(words: string): Promise<void> {
  await Promise.all([load(), open.load(trialId.value)])
  said.value = words
}
function addBare(like: BuildUpDetail): Promise<void> {
  const path = { trial_id: trialId.value }
  return changeBare(
    () =>
      body(api.POST('/api/trials/{trial_id}/build-ups', { params: { path }, body: { bare_like: like.id } })),
    `A bare panel prepared like ${like.name} is one of the trial’s now.`,
  )
}
function removeBare(row: BuildUpDetail): Promise<void> {
  const path = { trial_id: trialId.value, build_up_id: row.id }
  return changeBare(
    () => body(api.DELETE('/api/trials/{trial_id}/build-ups/{build_up_id}', { params: { path } })),
    `${row.name} is gone.`,
  )
}
function flagOf(row: BuildUpDetail): { words: string; kind: string } | null {
  if (row.assessment?.is_blocked)
    return row.recipe?.experiment_reason
      ? { words: 'declared experiment', kind: 'caution' }
      : { words: 'will not hold', kind: 'late' }
  const n = row.assessment?.findings.filter((one) => one.severity === 'warn').length ?? 0
  return n ? { words: `${n} to take care of`, kind: 'caution' } : null
}
function families(): readonly Schemas['Family'][] {
  return open.reference?.families ?? []
}
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>Build-ups</h1>
        <p class="quiet">What is put on each panel, from the wood up: preparation, layers, last of all</p>
      </div>
      <RouterLink class="press" :to="`/trials/${trialId}/design`">On to the design</RouterLink>
    </header>
    <StateView v-if="trouble" kind="trouble" title="The build-ups cannot be shown" :says="trouble">
      <button class="press press-main" @click="load">Try again</button>
    </StateView>
    <StateView
      v-else-if="view && !candidates.length"
      title="No build-up yet"
      says="Choose the candidates first; each becomes a build-up that you can build out here."
    >
      <RouterLink class="press press-main" :to="`/trials/${trialId}/candidates`"
        >Choose candidates</RouterLink
      >
    </StateView>
    <template v-else-if="view">
      <SchoolsBar :trial-id="trialId" :view="view" @changed="load" />
      <CrossingPanel
        v-if="!view.is_started"
        :trial-id="trialId"
        :build-ups="view.build_ups"
        :families="families()"
        @made="crossed"
      />
      <CrossingStands v-else :trial-id="trialId" :build-ups="view.build_ups" />
      <p v-if="said" role="status">{{ said }}</p>
      <p v-if="copyTrouble" class="late" role="alert">{{ copyTrouble }}</p>
      <div class="desk">
        <nav class="list sheet" aria-label="Build-ups of the trial">
          <button
            v-for="row in candidates"
            :key="row.id"
            class="one"
            :class="{ here: row.id === chosen?.id }"
            :aria-current="row.id === chosen?.id ? 'true' : undefined"
            @click="choose(row)"
          >
            <LayerSection :layers="row.layers" :species="species" />
            <span class="words">
              <strong>{{ row.name }}</strong>
              <span class="quiet">version {{ row.version }}{{ row.is_frozen ? ', frozen' : '' }}</span>
              <span class="quiet">{{ quantityOf('price_per_m2', row.assessment?.cost_per_m2) }}</span>
              <span v-if="flagOf(row)" :class="flagOf(row)?.kind">{{ flagOf(row)?.words }}</span>
            </span>
          </button>
        </nav>
        <RecipeEditor
          v-if="chosen"
          :key="chosen.id"
          :trial-id="trialId"
          :build-up="chosen"
          :is-started="view.is_started"
          :species="species"
          :families="families()"
          @saved="take"
          @copy="copy(chosen)"
        />
      </div>
      <SectionsPanel
        :key="nCrossed"
        :trial-id="trialId"
        :chosen="chosen"
        :is-started="view.is_started"
        :families="families()"
        @changed="sectionsChanged"
      />
      <BareControls
        :build-ups="view.build_ups"
        :chosen="chosen"
        :is-started="view.is_started"
        :is-busy="isBusy"
        @add="addBare"
        @remove="removeBare"
      />
      <ShoppingList v-if="shopping" :shopping="shopping" />
    </template>
    <StateView v-else kind="busy" title="Laying the build-ups out…" />
  </div>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: 244px minmax(0, 1fr);
  gap: 16px;
  align-items: start;
}
.list {
  display: flex;
  flex-direction: column;
}
.one {
  display: flex;
  align-items: center;
  gap: 12px;
  min-height: 68px;
  padding: 8px 10px;
  border: 0;
  border-left: 4px solid transparent;
  background: none;
  color: var(--ink);
  font-size: 15px;
  text-align: left;
  cursor: pointer;
}
.one + .one {
  border-top: 1px solid var(--hairline);
}
.one :deep(.section) {
  width: 64px;
  height: 44px;
}
.here {
  border-left-color: var(--accent);
  background: var(--ground);
}
.one:focus-visible {
  outline-offset: -3px;
}
.words {
  display: flex;
  flex-direction: column;
  min-width: 0;
  line-height: 1.3;
}
.words .quiet,
.words .caution,
.words .late {
  font-size: 14px;
}
@media (max-width: 1000px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
