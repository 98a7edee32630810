<script setup lang="ts">
import ChoiceBar from '@/kit/ChoiceBar.vue'
import { ZOOMS, type Zoom } from './lanes'

/** How much time shows, and which stretch of it. */
const zoom = defineModel<Zoom>({ required: true })
defineEmits<{ shift: [direction: number] }>()
</script>

<template>
  <div class="row tools">
    <ChoiceBar
      label="How much time shows"
      :options="ZOOMS"
      :chosen="zoom"
      @choose="(id) => (zoom = id as Zoom)"
    />
    <button class="press" aria-label="Earlier" @click="$emit('shift', -1)">◂</button>
    <button class="press" aria-label="Later" @click="$emit('shift', 1)">▸</button>
  </div>
</template>

<style scoped>
.tools {
  gap: 8px;
}
.tools :deep(.press) {
  padding: 0 12px;
}
</style>
