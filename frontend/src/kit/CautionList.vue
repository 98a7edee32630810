<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** What may happen at a piece of work, and what to do: shown at the moment that needs it. */
defineProps<{ cautions: readonly Schemas['Caution'][] }>()
</script>

<template>
  <ul class="cautions">
    <li v-for="caution in cautions" :key="caution.id">
      <strong>{{ caution.says }}</strong> {{ caution.do }}
    </li>
  </ul>
</template>

<style scoped>
.cautions {
  display: flex;
  flex-direction: column;
  gap: 4px;
  margin: 0;
  padding: 8px 12px;
  border-left: 4px solid var(--due);
  background: var(--ground);
  list-style: none;
}
</style>
