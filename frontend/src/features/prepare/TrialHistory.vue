<script setup lang="ts">
import { ref } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'

/** Who did what to the trial, asked for when it is opened. */
const props = defineProps<{ trialId: number }>()
const lines = ref<Schemas['HistoryLine'][] | null>(null)
const trouble = ref('')

async function open(event: Event): Promise<void> {
  if (!(event.target as HTMLDetailsElement).open) return
  try {
    const path = { trial_id: props.trialId }
    lines.value = await body(api.GET('/api/trials/{trial_id}/history', { params: { path } }))
    trouble.value = ''
  } catch (error) {
    trouble.value = wordsOf(error)
  }
}

function words(action: string): string {
  return action.replaceAll('_', ' ')
}
</script>

<template>
  <details @toggle="open">
    <summary>Who did what</summary>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
    <ol v-else-if="lines" class="lines">
      <li v-for="(line, index) in lines" :key="index">
        {{ new Date(line.at).toLocaleString('en-GB') }} · {{ line.person || 'Nublet' }} ·
        {{ words(line.action) }}
      </li>
    </ol>
    <p v-else class="quiet">Looking it up…</p>
  </details>
</template>

<style scoped>
summary {
  min-height: 44px;
  line-height: 44px;
  cursor: pointer;
}
.lines {
  max-height: 280px;
  margin: 0;
  padding-left: 0;
  overflow: auto;
  list-style: none;
  font-size: 14px;
}
</style>
