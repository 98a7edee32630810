<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** What the keys of this screen do. */
defineProps<{ grades: readonly Schemas['GradeMeaning'][] }>()
</script>

<template>
  <dl class="sheet all-keys">
    <dt>{{ grades.at(-1)?.grade }} – {{ grades[0]?.grade }}</dt>
    <dd>grade the spot and move on</dd>
    <dt>← → ↑ ↓</dt>
    <dd>move to another spot</dd>
    <dt>[ and ]</dt>
    <dd>previous and next panel</dd>
    <dt>U</dt>
    <dd>take the last entry back</dd>
    <dt>N</dt>
    <dd>write a note</dd>
  </dl>
</template>

<style scoped>
.all-keys {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 14px;
  margin: 0;
  padding: 12px;
}
.all-keys dt {
  font-family: var(--mono);
}
.all-keys dd {
  margin: 0;
}
</style>
