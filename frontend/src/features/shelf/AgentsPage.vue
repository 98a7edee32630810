<script setup lang="ts">
import { ref } from 'vue'
import { api, body, type Schemas } from '@/api/client'
import StateView from '@/kit/StateView.vue'
import { figureOf, inUnits, signOf, toMetric, toScreen } from '@/kit/units'
import { durationWords, GROUP_WORDS, NATURE_WORDS, readNumbers, type AgentFields } from './model'
import ShelfFile from './ShelfFile.vue'
import ShelfTabs from './ShelfTabs.vue'
import { useOwnThings } from './useOwnThings'

const things = useOwnThings({
  list: () => body(api.GET('/api/shelf/agents')),
  wordsOf: (row: Schemas['Agent']) =>
    `${row.agent.name} ${row.agent.strength} ${row.agent.amount} ${GROUP_WORDS[row.agent.group]}`,
})
const { shown, search, isArchived, trouble, loadTrouble, isBusy, load, attempt } = things
const draft = ref<(AgentFields & { times: string; degrees: string }) | null>(null)
const changing = ref<number | null>(null)

function begin(row: Schemas['Agent'] | null, isCopy = false): void {
  changing.value = isCopy ? null : (row?.item_id ?? null)
  const agent = row?.agent ?? { name: '', group: 'stain' as const }
  draft.value = {
    strength: '',
    amount: '',
    ...agent,
    natures: [...(agent.natures ?? [])],
    name: isCopy ? `${agent.name}, ours` : agent.name,
    times: (agent.durations_min ?? []).join(', '),
    degrees: (agent.temperatures_c ?? []).map((c) => toScreen('celsius', c)).join(', '),
  }
}
async function save(): Promise<void> {
  if (!draft.value) return
  const { times, degrees, ...fields } = draft.value
  const durations = readNumbers(times)
  const temperatures = readNumbers(degrees)
  if (!durations || !temperatures) {
    trouble.value = `${durations ? 'Temperatures' : 'Contact times'}: give numbers, such as 10, 60, 360.`
    return
  }
  const sent = {
    ...fields,
    durations_min: durations,
    temperatures_c: temperatures.map((shown) => toMetric('celsius', shown)),
  }
  const id = changing.value
  const done = await attempt(() =>
    id === null
      ? api.POST('/api/shelf/agents', { body: sent })
      : api.PUT('/api/shelf/agents/{item_id}', { params: { path: { item_id: id } }, body: sent }),
  )
  if (done) draft.value = null
}
function archive(row: Schemas['Agent']): Promise<boolean> {
  const path = { item_id: row.item_id ?? 0 }
  return attempt(() =>
    api.POST('/api/shelf/agents/{item_id}/archive', {
      params: { path },
      body: { is_archived: !row.is_archived },
    }),
  )
}
function ladder(agent: AgentFields): string {
  const degrees = (agent.temperatures_c ?? []).map((c) => figureOf('celsius', c)).join(', ')
  const heat = degrees && `${degrees} ${signOf('celsius')}`
  return [durationWords(agent.durations_min ?? []), heat].filter(Boolean).join(' · ')
}
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>Shelf</h1>
        <p class="quiet">Agents: what is put on a spot, how much of it, for how long</p>
      </div>
      <ShelfTabs />
    </header>
    <div class="row">
      <label class="sr" for="agent-search">Find an agent</label>
      <el-input id="agent-search" v-model="search" class="find" clearable placeholder="Find an agent" />
      <label class="choice"><input v-model="isArchived" type="checkbox" /> Archived</label>
      <button class="press press-main" @click="begin(null)">New agent</button>
      <ShelfFile kind="agents" noun="agent" @written="load" />
    </div>
    <form v-if="draft" class="sheet edit" @submit.prevent="save">
      <div class="field wide">
        <label for="agent-name">Name</label>
        <el-input id="agent-name" v-model="draft.name" maxlength="120" />
      </div>
      <div class="field">
        <label for="agent-group">Group</label>
        <el-select id="agent-group" v-model="draft.group">
          <el-option v-for="(words, id) in GROUP_WORDS" :key="id" :value="id" :label="words" />
        </el-select>
      </div>
      <div class="field">
        <label for="agent-strength">Strength</label>
        <el-input id="agent-strength" v-model="draft.strength" />
      </div>
      <div class="field wide">
        <label for="agent-amount">How much, and how</label>
        <el-input id="agent-amount" v-model="draft.amount" />
      </div>
      <div class="field">
        <label for="agent-times">Contact times, min</label>
        <el-input id="agent-times" v-model="draft.times" placeholder="10, 60, 360" />
      </div>
      <div class="field">
        <label for="agent-degrees">Temperatures, {{ signOf('celsius') }}</label>
        <el-input id="agent-degrees" v-model="draft.degrees" />
      </div>
      <fieldset class="wide natures">
        <legend>Keep it from others because it is</legend>
        <label v-for="(words, id) in NATURE_WORDS" :key="id" class="choice"
          ><input v-model="draft.natures" type="checkbox" :value="id" /> {{ words }}</label
        >
      </fieldset>
      <button class="press press-main" :disabled="isBusy">Save</button>
      <button type="button" class="press" @click="draft = null">Leave</button>
    </form>
    <p v-if="trouble" class="late" role="alert">{{ inUnits(trouble) }}</p>
    <StateView v-if="loadTrouble" kind="trouble" title="The agents cannot be listed" :says="loadTrouble">
      <button class="press press-main" @click="load">Try again</button>
    </StateView>
    <ul v-else class="sheet list">
      <li v-for="row in shown" :key="row.id" class="thing">
        <span class="quiet">{{ GROUP_WORDS[row.agent.group] }}</span>
        <span class="name">
          <strong
            >{{ row.agent.name
            }}<template v-if="row.agent.strength">, {{ inUnits(row.agent.strength) }}</template></strong
          >
          <span class="quiet">{{ inUnits(row.agent.amount ?? '') }}</span>
        </span>
        <span class="steps quiet">{{ ladder(row.agent) }}</span>
        <span class="caution">
          <template v-for="nature in row.agent.natures" :key="nature">{{ NATURE_WORDS[nature] }}. </template>
        </span>
        <span class="row acts">
          <template v-if="row.item_id !== null">
            <button class="press" :aria-label="`Change ${row.agent.name}`" @click="begin(row)">Change</button>
            <button
              class="press"
              :aria-label="`${row.is_archived ? 'Put back' : 'Archive'} ${row.agent.name}`"
              :disabled="isBusy"
              @click="archive(row)"
            >
              {{ row.is_archived ? 'Put back' : 'Archive' }}
            </button>
          </template>
          <button class="press" :aria-label="`Copy ${row.agent.name} to change it`" @click="begin(row, true)">
            Copy
          </button>
        </span>
      </li>
    </ul>
  </div>
</template>

<style scoped src="./things.css"></style>
<style scoped>
.thing {
  grid-template-columns: 90px minmax(0, 1.2fr) minmax(0, 1fr) minmax(0, 0.9fr) 270px;
}
.natures {
  display: grid;
  grid-column: 1 / -1;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
}
.natures legend {
  margin-bottom: 4px;
}
@media (max-width: 900px) {
  .thing {
    grid-template-columns: 76px minmax(0, 1fr) auto !important;
  }
  .steps,
  .thing > .caution {
    display: none;
  }
}
</style>
