<script setup lang="ts">
import type { BenchEntry, RefusedEntry } from '@/app/entries'
import { responseOf, valueWords } from '@/kit/responses'

/** What the server would not take, with its reasons, until the judge has seen it. */
defineProps<{ refused: readonly RefusedEntry[]; names: ReadonlyMap<string, { short_name: string }> }>()
defineEmits<{ seen: [] }>()

function valueOf(entry: BenchEntry): string {
  const value = entry.value ?? entry.grade
  if (value == null) return ''
  const response = entry.response || 'grade'
  return `, ${responseOf(response).noun} ${valueWords(response, value, entry.is_beyond)}`
}
</script>

<template>
  <div class="sheet refused" role="alert">
    <strong>The server would not take {{ refused.length }} of your entries:</strong>
    <p v-for="{ entry, says } in refused" :key="entry.client_id">
      Panel {{ entry.panel }}, {{ names.get(entry.exposure)?.short_name ?? entry.exposure }}{{ valueOf(entry)
      }}{{ entry.note ? `, note “${entry.note}”` : '' }}:
      {{ says }}
    </p>
    <button class="press" @click="$emit('seen')">I have seen it</button>
  </div>
</template>

<style scoped>
.refused {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 8px;
  padding: 14px 16px;
  border-left: 4px solid var(--late);
}
</style>
