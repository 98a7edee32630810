<script setup lang="ts">
import { computed } from 'vue'
import { woodTone } from './wood'

/** A build-up as a cross-section: penetrating coats go into the wood, films stand on it, waxes lie on top. */
const props = defineProps<{ seat: 'in' | 'on' | 'top' | null; coats: number; species?: string }>()

const tone = computed(() => woodTone(props.species ?? 'beech'))
const layers = computed(() => Array.from({ length: Math.min(props.coats, 8) }, (_, index) => index))
const SURFACE = 26
const thick = computed(() => (props.seat === 'top' ? 1.6 : 2.6))
</script>

<template>
  <svg class="section" viewBox="0 0 96 48" aria-hidden="true">
    <rect x="0" :y="SURFACE" width="96" :height="48 - SURFACE" :fill="tone.ground" />
    <path
      v-for="y in [33, 38, 43]"
      :key="y"
      :d="`M0 ${y} q24 -2.5 48 0 t48 0`"
      :stroke="tone.grain"
      fill="none"
      stroke-width="0.7"
    />
    <template v-if="seat === 'in'">
      <rect
        v-for="index in layers"
        :key="index"
        x="0"
        :y="SURFACE"
        width="96"
        :height="14 - index * 1.4"
        fill="#6b3f12"
        opacity="0.13"
      />
      <line x1="0" x2="96" :y1="SURFACE" :y2="SURFACE" class="edge" />
    </template>
    <template v-else-if="seat">
      <rect
        v-for="index in layers"
        :key="index"
        x="0"
        :y="SURFACE - (index + 1) * thick"
        width="96"
        :height="thick - 0.5"
        :class="seat"
      />
      <line x1="0" x2="96" :y1="SURFACE" :y2="SURFACE" class="edge" />
    </template>
    <line v-else x1="0" x2="96" :y1="SURFACE" :y2="SURFACE" class="edge bare" />
  </svg>
</template>

<style scoped>
.section {
  display: block;
  width: 96px;
  height: 48px;
}
.edge {
  stroke: var(--ink);
  stroke-width: 0.8;
}
.bare {
  stroke-dasharray: 3 2;
}
.on {
  fill: #c8913e;
}
.top {
  fill: #8f9b95;
}
</style>
