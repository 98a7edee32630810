<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { clockOf } from './model'

/** A plan that is being made: the best one so far, and how to have it now; or why there is none. */
const props = defineProps<{ job: Schemas['PlanJob']; zone: string; isBusy: boolean }>()
defineEmits<{ stop: []; again: []; mend: [says: string] }>()

const best = computed(() => props.job.progress.at(-1))
const isRunning = computed(() => props.job.state === 'running' && !props.job.is_silent)

function endWords(moment: string): string {
  const day = new Date(moment).toLocaleDateString('en-GB', {
    timeZone: props.zone,
    weekday: 'short',
    day: 'numeric',
    month: 'long',
  })
  return `${day}, ${clockOf(moment, props.zone)}`
}
</script>

<template>
  <section class="sheet job" :class="{ trouble: !isRunning }" aria-live="polite">
    <template v-if="isRunning">
      <div class="words">
        <h2>{{ job.is_again ? 'Planning again from now' : 'Planning' }}…</h2>
        <p v-if="best">
          Best so far: last work on <strong>{{ endWords(best.end_at) }}</strong>,
          {{ best.n_sittings }} sittings at the bench, found after {{ best.elapsed_s.toFixed(0) }} s.
        </p>
        <p v-else-if="job.is_waiting" class="quiet">
          It waits for its turn: another plan is being made. You can go on working meanwhile.
        </p>
        <p v-else class="quiet">Laying out a first plan. You can go on working meanwhile.</p>
      </div>
      <button
        class="press"
        :disabled="isBusy || job.is_stop_asked || (!best && !job.is_waiting)"
        @click="$emit('stop')"
      >
        {{ job.is_stop_asked ? 'Stopping…' : job.is_waiting ? 'Do not make it' : 'Stop, keep the best' }}
      </button>
    </template>
    <div v-else class="words" role="alert">
      <h2>{{ job.state === 'impossible' ? 'There is no such plan' : 'No plan was made' }}</h2>
      <ul v-if="job.reasons.length">
        <li v-for="(reason, index) in job.reasons" :key="reason">
          {{ reason }}
          <span v-if="job.mends[index]?.length" class="mends">
            <button
              v-for="mend in job.mends[index]"
              :key="mend"
              type="button"
              class="press"
              :disabled="isBusy"
              @click="$emit('mend', mend)"
            >
              Try {{ mend }}
            </button>
          </span>
        </li>
      </ul>
      <p v-else>
        {{ job.trouble || 'The planner has not been heard of for a while. Ask for the plan again.' }}
      </p>
      <p class="row">
        <RouterLink class="press" to="/bench">Change hours or the bench</RouterLink>
        <button v-if="job.is_again" class="press" :disabled="isBusy" @click="$emit('again')">
          Plan again from now
        </button>
      </p>
    </div>
  </section>
</template>

<style scoped>
.mends {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 8px 0 12px;
}
.job {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 12px 24px;
  padding: 14px 18px;
  border-left: 4px solid var(--accent);
}
.job.trouble {
  border-left-color: var(--late);
}
.words {
  display: flex;
  flex-direction: column;
  gap: 6px;
}
ul {
  margin: 0;
  padding-left: 20px;
}
</style>
