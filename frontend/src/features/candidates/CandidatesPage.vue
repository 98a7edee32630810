<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'
import { useOpenTrial } from '@/app/openTrial'
import LayerSection from '@/kit/LayerSection.vue'
import AddCandidate from './AddCandidate.vue'

type BuildUp = Schemas['BuildUp']

const open = useOpenTrial()
const trialId = computed(() => open.summary?.trial.id ?? 0)
const buildUps = computed(() => open.summary?.trial.build_ups ?? [])
const families = computed(() => new Map(open.reference?.families.map((family) => [family.id, family])))
// Once panels are graded the comparison is what it is; the server refuses changes too.
const isFixed = computed(() => open.summary?.trial.started_at != null)
const species = computed(() => open.summary?.trial.species[0])

const trouble = ref('')
const isBusy = ref(false)
const adding = ref<InstanceType<typeof AddCandidate> | null>(null)

async function attempt(request: () => Promise<Schemas['TrialSummary']>): Promise<boolean> {
  isBusy.value = true
  trouble.value = ''
  try {
    open.summary = await request()
    return true
  } catch (error) {
    trouble.value = wordsOf(error)
    return false
  } finally {
    isBusy.value = false
  }
}

async function add(candidate: Schemas['NewBuildUpRequest']): Promise<void> {
  const path = { trial_id: trialId.value }
  const sent = await attempt(() =>
    body(api.POST('/api/trials/{trial_id}/build-ups', { params: { path }, body: candidate })),
  )
  if (sent) adding.value?.clear()
}
function remove(row: BuildUp): Promise<boolean> {
  const path = { trial_id: trialId.value, build_up_id: row.id }
  return attempt(() =>
    body(api.DELETE('/api/trials/{trial_id}/build-ups/{build_up_id}', { params: { path } })),
  )
}
function setBenchmark(row: BuildUp): Promise<boolean> {
  const path = { trial_id: trialId.value, build_up_id: row.id }
  const fields = { is_benchmark: !row.is_benchmark }
  return attempt(() =>
    body(
      api.PUT('/api/trials/{trial_id}/build-ups/{build_up_id}/benchmark', { params: { path }, body: fields }),
    ),
  )
}
function layersOf(row: BuildUp): string {
  const n = row.layers.length
  const family = families.value.get(row.family ?? '')?.name
  return `${family} · ${n > 1 ? `${n} layers, ` : ''}${row.coats} ${row.coats === 1 ? 'coat' : 'coats'}`
}
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>Candidates</h1>
        <p class="quiet">
          The build-ups that this trial compares; the bare control is always among them, and the shop’s
          benchmarks begin every new trial
        </p>
      </div>
      <RouterLink v-if="buildUps.length > 1" class="press press-main" :to="`/trials/${trialId}/build-ups`"
        >On to the build-ups</RouterLink
      >
    </header>

    <ul class="list sheet">
      <li v-for="row in buildUps" :key="row.id" class="candidate">
        <LayerSection :layers="row.layers" :species="species" />
        <div class="words">
          <strong>{{ row.name }}</strong>
          <span v-if="row.is_control" class="quiet"
            >Untreated: it should fail, which shows that the tests bite</span
          >
          <span v-else class="quiet"
            >{{ layersOf(row) }} · {{ families.get(row.family ?? '')?.setting }} · version
            {{ row.version }}</span
          >
        </div>
        <div v-if="!row.is_control" class="row">
          <RouterLink
            class="press"
            :aria-label="`${isFixed ? 'Look at' : 'Build out'} ${row.name}`"
            :to="{ path: `/trials/${trialId}/build-ups`, query: { build_up: row.id } }"
            >{{ isFixed ? 'Look' : 'Build out' }}</RouterLink
          >
          <button
            class="press"
            :class="{ 'press-main': row.is_benchmark }"
            :disabled="isBusy"
            :aria-pressed="row.is_benchmark"
            :aria-label="`Benchmark: ${row.name} in every new trial`"
            @click="setBenchmark(row)"
          >
            Benchmark
          </button>
          <button
            v-if="!isFixed"
            class="press"
            :disabled="isBusy"
            :aria-label="`Remove ${row.name}`"
            @click="remove(row)"
          >
            Remove
          </button>
        </div>
      </li>
    </ul>

    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
    <p v-if="isFixed" class="quiet">
      The trial has started, so the build-ups stand. A new comparison is a new trial.
    </p>
    <AddCandidate
      v-else
      ref="adding"
      :families="open.reference?.families ?? []"
      :taken="buildUps.map((row) => row.name)"
      :is-busy="isBusy"
      @add="add"
    />
  </div>
</template>

<style scoped>
.list {
  margin: 0;
  padding: 0;
  list-style: none;
}
.candidate {
  display: flex;
  align-items: center;
  gap: 20px;
  padding: 10px 16px;
  border-bottom: 1px solid var(--hairline);
}
.candidate:last-child {
  border-bottom: 0;
}
.words {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-width: 0;
}
</style>
