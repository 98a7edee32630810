<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { speciesName } from '@/kit/species'
import type { TrialDraft } from './model'
import PanelSizeFields from '@/kit/PanelSizeFields.vue'
import WorthFields from './WorthFields.vue'

/** What the trial asks, on which wood, by which protocol, and who grades. */
const props = defineProps<{
  reference: Schemas['Reference']
  people: readonly Schemas['Person'][]
  trouble: string
  troubledField: string | null
  /** The protocol that is the trial's own, whatever the shelf has by its name now. */
  ownProtocol?: Schemas['Protocol']
  /** Its number, once it is made. */
  trialId?: number
  /** The trial has started: wood, protocol and panels stand. */
  isFixed?: boolean
}>()
const draft = defineModel<TrialDraft>({ required: true })

const uses = computed(() =>
  props.reference.uses.filter((use) => !use.is_archived || draft.value.uses.includes(use.id)),
)
const chosenUses = computed(() => uses.value.filter((use) => draft.value.uses.includes(use.id)))
const protocols = computed(() => [
  ...props.reference.protocols.filter((item) => item.id !== props.ownProtocol?.id),
  ...(props.ownProtocol ? [props.ownProtocol] : []),
])
const compared = computed(
  () => protocols.value.find((item) => item.id === draft.value.protocol)?.compared ?? [],
)
/** What may be chosen, and what was chosen before it went to the archive. */
const woods = computed(() => [
  ...props.reference.species,
  ...draft.value.species
    .filter((id) => !props.reference.species.some((wood) => wood.id === id))
    .map((id) => ({ id, name: speciesName(id) })),
])
</script>

<template>
  <div class="grid">
    <div class="column">
      <div class="field">
        <label for="name">Name of the trial</label>
        <el-input id="name" v-model="draft.name" maxlength="120" placeholder="Saloon tables" />
        <span class="hint">Judges see it, so it must not name a finish.</span>
      </div>
      <div class="field">
        <label for="question">Question</label>
        <el-input
          id="question"
          v-model="draft.question"
          type="textarea"
          :rows="4"
          maxlength="4000"
          placeholder="Which finish stands up to wine and wet glasses, and can be mended between services?"
        />
      </div>
      <fieldset>
        <legend>For which use</legend>
        <div class="uses">
          <label v-for="use in uses" :key="use.id" class="choice">
            <input v-model="draft.uses" type="checkbox" :value="use.id" />
            <span>{{ use.name }}</span>
          </label>
        </div>
        <p v-for="use in chosenUses" :key="use.id" class="quiet says">{{ use.name }}: {{ use.says }}</p>
      </fieldset>
      <fieldset>
        <legend>Who grades</legend>
        <div class="row">
          <label v-for="person in people" :key="person.id" class="choice">
            <input v-model="draft.judges" type="checkbox" :value="person.id" />
            <span>{{ person.display_name }}</span>
          </label>
        </div>
        <span v-if="people.length < 2" class="quiet">One judge is little: add more under People.</span>
      </fieldset>
    </div>
    <div class="column">
      <p v-if="isFixed" class="quiet">
        The trial has started, so wood, protocol and panels stand. A new comparison is a new trial.
      </p>
      <div class="field">
        <label for="wood">Wood</label>
        <el-select
          id="wood"
          v-model="draft.species"
          multiple
          filterable
          default-first-option
          :reserve-keyword="false"
          :disabled="isFixed"
          placeholder="Type a wood"
        >
          <el-option v-for="wood in woods" :key="wood.id" :value="wood.id" :label="wood.name" />
        </el-select>
      </div>
      <div class="field">
        <label for="boards">Boards of each wood</label>
        <el-input-number
          id="boards"
          v-model="draft.boards_per_species"
          :disabled="isFixed"
          :min="0"
          :max="30"
        />
        <span class="hint"
          >Each board carries every build-up once. 3 is a floor, 5 is comfortable; 1 is a demonstration.</span
        >
      </div>
      <div class="field">
        <label for="protocol">Protocol</label>
        <el-select id="protocol" v-model="draft.protocol" :disabled="isFixed">
          <el-option v-for="item in protocols" :key="item.id" :value="item.id" :label="item.name" />
        </el-select>
        <RouterLink v-if="trialId" class="link" :to="`/trials/${trialId}/protocol`"
          >{{ isFixed ? 'Look at' : 'Put together' }} what is done, and when it is read</RouterLink
        >
        <template v-for="item in protocols" :key="item.id">
          <ul v-if="item.id === draft.protocol" class="exposures">
            <li v-for="exposure in item.tests" :key="exposure.id">{{ exposure.name }}</li>
            <li class="quiet">
              Looks: {{ item.looks.map((look) => look.name.toLowerCase()).join(' and ') }}
            </li>
            <li class="quiet">{{ item.says }}</li>
          </ul>
        </template>
      </div>
      <PanelSizeFields v-model="draft" :is-fixed="isFixed" />
      <WorthFields v-model="draft.worth_knowing" :asked="compared" :is-late="isFixed ?? false" />
    </div>
    <p v-if="trouble" class="late wide" role="alert" :data-field="troubledField">{{ trouble }}</p>
  </div>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 20px 40px;
}
.column {
  display: flex;
  flex-direction: column;
  gap: 20px;
}
.wide {
  grid-column: 1 / -1;
}
.uses {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(13rem, 1fr));
  column-gap: 16px;
}
.says {
  margin: 4px 0 0;
}
.exposures {
  margin: 6px 0 0;
  padding-left: 18px;
}
@media (max-width: 1000px) {
  .grid {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
