<script setup lang="ts">
import { markFill, markRadius, RING_RADIUS } from './grades'

/** The mark in the ring. Decorative by itself: the digit stands beside it. */
defineProps<{ grade: number; size?: number }>()
</script>

<template>
  <svg
    :width="size ?? 26"
    :height="size ?? 26"
    viewBox="-13 -13 26 26"
    aria-hidden="true"
    class="mark"
    focusable="false"
  >
    <circle :r="RING_RADIUS" class="ring" />
    <circle v-if="markRadius(grade) > 0" :r="markRadius(grade)" :fill="markFill(grade)" />
  </svg>
</template>

<style scoped>
.mark {
  flex: none;
}
.ring {
  fill: var(--mark-ground);
  stroke: var(--mark-ring);
  stroke-width: 1.6;
}
html.dark .ring {
  stroke: var(--quiet);
}
</style>
