<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** Which of the shop's other trials are planned at once with this one, none of them first. */
defineProps<{ trials: readonly Schemas['TrialBeside'][] }>()
const chosen = defineModel<number[]>({ required: true })

function standing(trial: Schemas['TrialBeside']): string {
  if (trial.is_companion) return 'planned together with this now'
  if (trial.has_begun) return 'work has begun: planned again from now'
  return trial.is_planned ? 'planned, not begun' : 'not planned yet'
}
</script>

<template>
  <fieldset v-if="trials.length" class="beside">
    <legend>Plan these together</legend>
    <p class="quiet">
      One plan for all that are ticked, none of them first; the days of each can move. The others’ plans stay,
      and this is made round them.
    </p>
    <label v-for="trial in trials" :key="trial.trial_id" class="choice"
      ><input v-model="chosen" type="checkbox" :value="trial.trial_id" />
      <span
        >{{ trial.trial_name }} <span class="quiet">({{ standing(trial) }})</span></span
      ></label
    >
  </fieldset>
</template>

<style scoped>
.beside {
  display: flex;
  flex-direction: column;
  gap: 6px;
  min-width: 0;
  margin: 0;
  padding: 0;
  border: 0;
}
legend {
  padding: 0;
  font-weight: 600;
}
p {
  margin: 0;
}
</style>
