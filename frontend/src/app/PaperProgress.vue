<script setup lang="ts">
import { computed } from 'vue'
import type { Job } from './papers'

/** How far a paper is, with a way to stop it; or why there is none. */
const props = defineProps<{ job: Job | null; isAsking: boolean; trouble: string }>()
defineEmits<{ stop: [] }>()

const words = computed(() => {
  const { job } = props
  if (!job) return 'Asking…'
  if (job.is_stop_asked) return 'Stopping…'
  if (job.state === 'waiting') return `${job.says}: waits for its turn…`
  if (!job.n_all) return `${job.says}: being drawn…`
  return `${job.says}: page ${job.n_done} of ${job.n_all}…`
})
const share = computed(() => (props.job?.n_all ? (100 * props.job.n_done) / props.job.n_all : 0))
</script>

<template>
  <div v-if="isAsking" class="progress">
    <span role="status">{{ words }}</span>
    <progress :value="share" max="100" :aria-label="words" />
    <button class="press" :disabled="!job || job.is_stop_asked" @click="$emit('stop')">Stop</button>
  </div>
  <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
</template>

<style scoped>
.progress {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 12px;
}
progress {
  flex: 1;
  min-width: 80px;
  accent-color: var(--accent);
}
</style>
