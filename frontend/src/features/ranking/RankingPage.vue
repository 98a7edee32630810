<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, body } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useOpenTrial } from '@/app/openTrial'
import { sectionChoices, speciesChoices, speciesName } from '@/kit/species'
import { lookWords } from '@/kit/looks'
import ChoiceBar from '@/kit/ChoiceBar.vue'
import { keyWords } from '@/kit/responses'
import StateView from '@/kit/StateView.vue'
import { weightsQuery, type Ranking } from './model'
import RankingRows from './RankingRows.vue'

const route = useRoute()
const router = useRouter()
const open = useOpenTrial()
const trialId = computed(() => Number(route.params.trialId))
const uses = computed(
  () => open.reference?.uses.filter((use) => open.summary?.trial.uses.includes(use.id)) ?? [],
)
const use = computed(() => String(route.query.use ?? uses.value[0]?.id ?? ''))
const species = computed(() => String(route.query.species ?? ''))
const section = computed(() => String(route.query.section ?? ''))
const weights = ref<Record<string, number | null>>({})
const own = ref<Record<string, number>>({})
const sent = ref('')

const ranking = useLoaded(async () => {
  if (!use.value) return null
  return body(
    api.GET('/api/trials/{trial_id}/ranking', {
      params: {
        path: { trial_id: trialId.value },
        query: { use: use.value, species: species.value, section: section.value, weights: sent.value },
      },
    }),
  )
}, [use, species, section, sent])
const { data: found, trouble, isLoading } = ranking

const woods = computed(() => speciesChoices(found.value?.species_choices ?? []))
const protocol = computed(() => open.summary?.trial.own_protocol)
const lookName = computed(
  () => protocol.value?.looks.find((look) => look.id === found.value?.look)?.name ?? found.value?.look,
)
const names = computed(() => new Map(protocol.value?.tests.map((item) => [item.id, item.short_name])))

/** The tests that feed a criterion, those without data named as such. */
function fedBy(criterion: Ranking['profile']['criteria'][number]): string {
  const missing =
    found.value?.systems[0]?.criteria.find((row) => row.criterion === criterion.id)?.missing ?? []
  const known = criterion.tests.filter((id) => !missing.includes(id)).map((id) => keyWords(id, names.value))
  if (known.length === 0) return 'not tested'
  return missing.length ? `${known.join(', ')}; ${missing.length} not tested` : known.join(', ')
}

// The first answer brings the profile's own weights.
watch(found, (now) => {
  if (now && Object.keys(weights.value).length === 0)
    weights.value = {
      ...(own.value = Object.fromEntries(now.profile.criteria.map((item) => [item.id, item.weight]))),
    }
})
watch(use, () => ((weights.value = {}), (sent.value = '')))
watchDebounced(weights, () => (sent.value = weightsQuery(weights.value, own.value)), {
  debounce: 250,
  deep: true,
})
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>Which build-up for the {{ found?.profile.name.toLowerCase() ?? 'use' }}?</h1>
        <p v-if="found" class="quiet">
          {{ speciesName(found.species) }} · {{ lookWords(lookName ?? '') }} ·
          {{ found.n_draws.toLocaleString('en') }} draws
          <b v-if="found.is_simulated" class="caution">· simulated</b>
        </p>
      </div>
      <ChoiceBar
        v-if="uses.length > 1"
        label="Use"
        :options="uses"
        :chosen="use"
        @choose="(id) => router.replace({ query: { ...route.query, use: id } })"
      />
      <ChoiceBar
        v-if="woods.length > 1"
        label="Wood"
        :options="woods"
        :chosen="found?.species ?? ''"
        @choose="(id) => router.replace({ query: { ...route.query, species: id } })"
      />
      <ChoiceBar
        v-if="found?.section_choices.length"
        label="Section"
        :options="sectionChoices(found.section_choices)"
        :chosen="found.section"
        @choose="(id) => router.replace({ query: { ...route.query, section: id } })"
      />
    </header>

    <StateView
      v-if="uses.length === 0"
      title="For which use?"
      says="A ranking needs a use: what wins on a table may lose on a bench. Choose one under Question."
    >
      <RouterLink class="press press-main" :to="`/trials/${trialId}/question`">Choose a use</RouterLink>
    </StateView>
    <StateView v-else-if="trouble && !found" kind="trouble" title="No ranking to show" :says="trouble">
      <RouterLink class="press press-main" :to="`/trials/${trialId}/read`">Grade panels</RouterLink>
      <button class="press" @click="ranking.load">Try again</button>
    </StateView>
    <StateView v-else-if="!found" kind="busy" title="Drawing ten thousand times…" />
    <template v-else>
      <section class="sheet verdict" aria-live="polite" :aria-busy="isLoading">
        <p class="first">{{ found.says[0] }}</p>
        <p v-for="says in found.says.slice(1)" :key="says" class="quiet">{{ says }}</p>
      </section>
      <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
      <div class="split">
        <RankingRows :ranking="found" :names="names" />
        <aside class="sheet weights">
          <h2>What the use weighs</h2>
          <p class="quiet">{{ found.profile.says }}</p>
          <div v-for="criterion in found.profile.criteria" :key="criterion.id" class="weight">
            <label :for="`weight-${criterion.id}`">
              {{ criterion.name }}
              <small class="quiet">{{ fedBy(criterion) }}</small>
            </label>
            <el-input-number
              :id="`weight-${criterion.id}`"
              v-model="weights[criterion.id]"
              :min="0"
              :max="1000"
              :step="5"
              :controls="false"
            />
          </div>
          <h2>Must pass</h2>
          <ul>
            <li v-for="gate in found.profile.gates" :key="gate.test">
              {{ names.get(gate.test) ?? gate.test }}: mean {{ gate.threshold }} or better
            </li>
          </ul>
        </aside>
      </div>
    </template>
  </div>
</template>

<style scoped>
.verdict {
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 16px 20px;
  border-left: 4px solid var(--accent);
}
.first {
  font-size: 19px;
  line-height: 1.35;
}
.split {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 256px;
  gap: 24px;
  align-items: start;
}
.weights {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 16px;
}
.weight {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 12px;
}
.weight small {
  display: block;
}
.weight :deep(.el-input-number) {
  width: 84px;
  flex: none;
}
ul {
  margin: 0;
  padding-left: 18px;
}
@media (max-width: 1000px) {
  .split {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
