<script setup lang="ts">
import FarDates from './FarDates.vue'
import { clockOf, type Days } from './model'

/** What stands in the way of the plan: late work, spoiled panels, other trials' hands, work that was passed over. */
defineProps<{ days: Days; trialId: number; zone: string }>()
</script>

<template>
  <template v-if="days.plan">
    <ul v-if="days.plan.late.length" class="sheet late-plan">
      <li v-for="says in days.plan.late" :key="says">{{ says }}</li>
    </ul>
    <p v-if="days.plan.left_out.length" class="sheet left-open">
      Spoiled by what was missed, and planned no more:
      <span class="mono">{{ days.plan.left_out.join(', ') }}</span>.
      <RouterLink :to="`/trials/${trialId}/prepare#deviations`">Replace them under Prepare</RouterLink>, then
      plan again.
    </p>
    <div v-if="days.others.length" class="sheet left-open">
      <p v-for="other in days.others" :key="`${other.trial_id} ${other.hands} ${other.start_at}`">
        {{ other.hands.split(' ')[0] }} is planned for
        <RouterLink :to="`/trials/${other.trial_id}/coat-and-cure`">{{ other.trial_name }}</RouterLink>
        too, {{ clockOf(other.start_at, zone) }}–{{ clockOf(other.end_at, zone) }}.
      </p>
      <p class="quiet">
        A plan is made round what stands in the others: their hands, blocks, rack and air. Where work there
        runs late, or was planned before this one, plan again from now.
      </p>
    </div>
    <details v-if="days.plan.says.length" class="quiet">
      <summary>How it was planned</summary>
      <ul>
        <li v-for="says in days.plan.says" :key="says">{{ says }}</li>
      </ul>
    </details>
    <div v-if="days.moved.length" class="sheet moved">
      <p v-for="each in days.moved" :key="each.trial_id">
        <template v-if="each.trial_id === trialId">Against the plan before, here </template>
        <template v-else
          >In <RouterLink :to="`/trials/${each.trial_id}/coat-and-cure`">{{ each.trial_name }}</RouterLink>,
        </template>
        {{ each.says }}
      </p>
    </div>
    <p v-if="days.n_left_open" class="sheet left-open">
      {{ days.n_left_open === 1 ? 'One piece of work has' : `${days.n_left_open} pieces of work have` }}
      passed undone. Write down what was done, or plan again from now.
    </p>
  </template>
  <FarDates v-if="days.far.length" :dates="days.far" :zone="zone" />
</template>

<style scoped>
.left-open,
.moved,
.late-plan {
  margin: 0;
  padding: 10px 16px;
  border-left: 4px solid var(--due);
  list-style: none;
}
.moved {
  border-left-color: var(--line);
}
.moved p {
  margin: 0;
}
</style>
