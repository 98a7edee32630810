<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { words } from '@/api/declared.json'
import { useOpenTrial } from '@/app/openTrial'
import QuantityInput from '@/kit/QuantityInput.vue'
import type { Days } from './model'
import TrialsBeside from './TrialsBeside.vue'

/** Ask for a plan: from when, and what belongs to each coat. */
const props = defineProps<{
  days: Days
  trialId: number
  send: (asked: Schemas['AskForPlanRequest']) => Promise<string>
}>()

const open = useOpenTrial()
const exposing = computed(() => open.summary?.trial.exposing)
const start = ref('')
const weighs = ref(true)
const prepares = ref(true)
const rest = ref<number | null>(0)
const trouble = ref('')
const isBusy = ref(false)
const together = ref<number[]>([])
const hands = computed(() => props.days.hands.map((each) => each.name).join(', '))

async function ask(): Promise<void> {
  isBusy.value = true
  trouble.value = await props.send({
    start: start.value,
    weighs: weighs.value,
    prepares: prepares.value,
    condition_h: rest.value ?? 0,
    again: false,
    mend: '',
    together_with: together.value,
  })
  isBusy.value = false
}
</script>

<template>
  <section class="sheet plan-start" aria-labelledby="plan-start">
    <h2 id="plan-start">Plan the bench days</h2>
    <p v-if="!days.is_designed">
      A plan needs panels.
      <RouterLink :to="`/trials/${trialId}/design`">Draw lots under Design</RouterLink> first.
    </p>
    <p v-else-if="!days.hands.length">
      Nobody works at the bench yet. <RouterLink to="/bench">Give each pair of hands its hours</RouterLink>,
      then come back.
    </p>
    <form v-else @submit.prevent="ask">
      <p class="quiet">
        Every coat, wipe-off, cure, exposure and look is fitted to the hours of {{ hands }}, so that each
        window holds.
        <RouterLink to="/bench">Change hours</RouterLink>
      </p>
      <p v-if="exposing" class="quiet">
        {{ words.exposing_says[exposing] }}
        <RouterLink :to="`/trials/${trialId}/design`">Chosen under Design</RouterLink>
      </p>
      <div class="field">
        <label for="plan-from">Begin on</label>
        <input id="plan-from" v-model="start" class="box" type="datetime-local" />
        <span class="hint"
          >In the shop’s time ({{ days.time_zone }}). Empty: as soon as hands are there.</span
        >
      </div>
      <label class="choice"
        ><input v-model="prepares" type="checkbox" /> Plan the preparation too: sanding, raising the grain,
        charring, washing, cleaning</label
      >
      <label class="choice"
        ><input v-model="weighs" type="checkbox" /> Weigh each panel before and after each coat</label
      >
      <div class="field">
        <label for="plan-rest">Let the panels rest first</label>
        <QuantityInput id="plan-rest" v-model="rest" class="short" quantity="hours" />
        <span class="hint">Until their mass changes no more; 24 is usual for boards from another room.</span>
      </div>
      <TrialsBeside v-model="together" :trials="days.beside" />
      <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
      <button class="press press-main" :disabled="isBusy">Make the plan</button>
    </form>
  </section>
</template>

<style scoped>
.plan-start,
form {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 14px;
}
.plan-start {
  max-width: 640px;
  padding: 18px 20px;
}
.short {
  width: 110px;
}
</style>
