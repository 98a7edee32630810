<script setup lang="ts">
import { computed } from 'vue'
import { progressPoints, type DrillLine } from './model'

/** How one scale's agreement goes from drill to drill. */
const props = defineProps<{ drills: readonly DrillLine[]; name: string }>()
const [WIDTH, HEIGHT] = [260, 90]
const points = computed(() => progressPoints(props.drills, WIDTH, HEIGHT))
const line = computed(() => points.value.map((each) => `${each.x.toFixed(1)},${each.y.toFixed(1)}`).join(' '))
const MARKS = [
  { at: 1, words: '1' },
  { at: 0.8, words: 'very well' },
  { at: 0.4, words: 'somewhat' },
  { at: 0, words: 'chance' },
]
</script>

<template>
  <svg
    v-if="points.length"
    :viewBox="`-66 -10 ${WIDTH + 78} ${HEIGHT + 20}`"
    role="img"
    :aria-label="`${name}: ${points.map((each) => each.words).join('; ')}`"
    class="plot"
  >
    <g v-for="mark in MARKS" :key="mark.at">
      <line :x1="0" :x2="WIDTH" :y1="HEIGHT * (1 - mark.at)" :y2="HEIGHT * (1 - mark.at)" class="rule" />
      <text :x="-6" :y="HEIGHT * (1 - mark.at) + 4">{{ mark.words }}</text>
    </g>
    <polyline v-if="points.length > 1" :points="line" class="line" />
    <circle v-for="each in points" :key="each.id" :cx="each.x" :cy="each.y" r="4" class="dot" />
  </svg>
</template>

<style scoped>
.plot {
  width: 340px;
  max-width: 100%;
}
.rule {
  stroke: var(--hairline);
}
text {
  fill: var(--quiet);
  font-size: 11px;
  text-anchor: end;
}
.line {
  fill: none;
  stroke: var(--accent);
  stroke-width: 1.5;
}
.dot {
  fill: var(--accent);
}
</style>
