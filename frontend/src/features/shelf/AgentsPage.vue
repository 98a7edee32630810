<script setup lang="ts">
import { ref } from 'vue'
import { api, body, type Schemas } from '@/api/client'
import { figureOf, signOf, toMetric, toScreen } from '@/kit/units'
import { durationWords, GROUP_WORDS, NATURE_WORDS, readNumbers, type AgentFields } from './model'
import OwnThings from './OwnThings.vue'
import { useOwnThings } from './useOwnThings'

type Agent = Schemas['Agent']

const things = useOwnThings({
  list: () => body(api.GET('/api/shelf/agents')),
  wordsOf: (row: Agent) =>
    `${row.agent.name} ${row.agent.strength} ${row.agent.amount} ${GROUP_WORDS[row.agent.group]}`,
})
const { trouble, isBusy, attempt } = things
const draft = ref<(AgentFields & { times: string; degrees: string }) | null>(null)
const changing = ref<number | null>(null)

function begin(row: Agent | null, isCopy: boolean): void {
  changing.value = isCopy ? null : (row?.item_id ?? null)
  const agent: AgentFields = row?.agent ?? { name: '', group: 'stain' }
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
function archive(row: Agent): Promise<boolean> {
  const path = { item_id: row.item_id ?? 0 }
  return attempt(() =>
    api.POST('/api/shelf/agents/{item_id}/archive', {
      params: { path },
      body: { is_archived: !row.is_archived },
    }),
  )
}
function leave(): void {
  draft.value = null
  trouble.value = ''
}
function ladder(agent: AgentFields): string {
  const degrees = (agent.temperatures_c ?? []).map((c) => figureOf('celsius', c)).join(', ')
  const heat = degrees && `${degrees} ${signOf('celsius')}`
  return [durationWords(agent.durations_min ?? []), heat].filter(Boolean).join(' · ')
}
function nameOf(agent: AgentFields): string {
  return [agent.name, agent.strength].filter(Boolean).join(', ')
}
</script>

<template>
  <OwnThings
    says="Agents: what is put on a spot, how much of it, for how long"
    noun="agent"
    kind="agents"
    :things="things"
    :name-of="(row) => row.agent.name"
    @begin="begin"
    @archive="archive"
  >
    <template #form>
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
        <fieldset class="natures">
          <legend>Keep it from others because it is</legend>
          <label v-for="(words, id) in NATURE_WORDS" :key="id" class="choice"
            ><input v-model="draft.natures" type="checkbox" :value="id" /> {{ words }}</label
          >
        </fieldset>
        <button class="press press-main" :disabled="isBusy">Save</button>
        <button type="button" class="press" @click="leave">Leave</button>
      </form>
    </template>
    <template #thing="{ thing }">
      <span class="agent">
        <span class="quiet">{{ GROUP_WORDS[thing.agent.group] }}</span>
        <span class="name">
          <strong>{{ nameOf(thing.agent) }}</strong>
          <span class="quiet">{{ thing.agent.amount }}</span>
        </span>
        <span class="steps quiet">{{ ladder(thing.agent) }}</span>
        <span class="steps caution">
          <template v-for="nature in thing.agent.natures" :key="nature"
            >{{ NATURE_WORDS[nature] }}.
          </template>
        </span>
      </span>
    </template>
  </OwnThings>
</template>

<style scoped>
.edit {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
  gap: 12px;
  align-items: end;
  padding: 16px;
}
.wide {
  grid-column: span 2;
}
.natures {
  display: grid;
  grid-column: 1 / -1;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
}
.natures legend {
  margin-bottom: 4px;
}
.agent {
  display: grid;
  grid-template-columns: 84px minmax(0, 1.3fr) minmax(0, 1fr) minmax(0, 0.9fr);
  align-items: center;
  gap: 16px;
}
.name {
  display: flex;
  flex-direction: column;
}
@media (max-width: 900px) {
  .agent {
    grid-template-columns: 76px minmax(0, 1fr);
  }
  .steps {
    display: none;
  }
}
</style>
