<script setup lang="ts">
import type { Refused } from './queue'
import type { WorkEntry } from './workEntries'

/** What the server did not take, with its reason, until it has been seen. */
defineProps<{ refused: readonly Refused<WorkEntry>[] }>()
defineEmits<{ seen: [] }>()
</script>

<template>
  <ul class="sheet refused" role="alert">
    <li v-for="each in refused" :key="each.entry.client_id">
      <strong
        >Not kept: {{ each.entry.entry }} {{ each.entry.kind }} {{ each.entry.panels.join(', ') }}.</strong
      >
      {{ each.says }}
    </li>
    <li><button class="press" @click="$emit('seen')">I have seen it</button></li>
  </ul>
</template>

<style scoped>
.refused {
  margin: 0;
  padding: 10px 16px;
  border-left: 4px solid var(--late);
  list-style: none;
}
</style>
