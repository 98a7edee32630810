<script setup lang="ts">
import { computed } from 'vue'
import { place } from '@/kit/scale'
import { axisOf } from './axis'
import type { TestEvidence } from './model'

/** One test: each build-up's panels as dots' summary — mean and 95 % interval on the line of its scale. */
const props = defineProps<{
  test: TestEvidence
  response: string
  title: string
  behind: string | null
}>()
defineEmits<{ open: [system: string] }>()

const LEFT = 225
const WIDTH = 330
const ROW = 34
const axis = computed(() => axisOf(props.response, [props.test]))
const margin = computed(() => (axis.value.to - axis.value.from) / 20)
const at = (value: number) =>
  LEFT + (WIDTH * place(value, axis.value.from - margin.value, axis.value.to + margin.value)) / 100
const height = computed(() => props.test.systems.length * ROW + 34)
</script>

<template>
  <figure class="plot">
    <figcaption>
      {{ title }}: means with the boards’ differences taken out, and how sure they are
      <small class="quiet">(least-squares means, 95 % intervals)</small>
    </figcaption>
    <svg
      :viewBox="`0 0 ${LEFT + WIDTH + 110} ${height}`"
      role="group"
      :aria-label="`Interval plot of ${title}`"
    >
      <g v-for="tick in axis.ticks" :key="tick">
        <line :x1="at(tick)" :x2="at(tick)" y1="4" :y2="height - 22" class="grid" />
        <text :x="at(tick)" :y="height - 6" class="tick">{{ tick }}</text>
      </g>
      <g
        v-for="(row, index) in test.systems"
        :key="row.system"
        class="point"
        :class="{ open: row.system === behind }"
        :transform="`translate(0 ${index * ROW + 18})`"
        role="button"
        tabindex="0"
        @click="$emit('open', row.system)"
        @keydown.enter="$emit('open', row.system)"
        @keydown.space.prevent="$emit('open', row.system)"
      >
        <rect x="0" :y="-ROW / 2" :width="LEFT + WIDTH + 110" :height="ROW" class="hit" />
        <text :x="LEFT - 14" y="5" class="name">{{ row.system }}</text>
        <rect
          v-if="row.ci"
          :x="at(row.ci[0] ?? row.mean)"
          y="-4"
          :width="Math.max(at(row.ci[1] ?? row.mean) - at(row.ci[0] ?? row.mean), 1)"
          height="8"
          class="interval"
        />
        <line :x1="at(row.mean)" :x2="at(row.mean)" y1="-9" y2="9" class="centre" />
        <text :x="LEFT + WIDTH + 14" y="5" class="letters">{{ row.mean.toFixed(2) }} {{ row.letters }}</text>
      </g>
    </svg>
    <p v-if="test.says" class="caution">{{ test.says }}</p>
  </figure>
</template>

<style scoped>
.plot {
  margin: 0;
}
figcaption {
  margin-bottom: 8px;
  font-weight: 600;
}
svg {
  display: block;
  width: 100%;
  height: auto;
}
.grid {
  stroke: var(--hairline);
}
.tick {
  fill: var(--quiet);
  font: 14px var(--mono);
  text-anchor: middle;
}
.name {
  fill: var(--ink);
  font-size: 16px;
  text-anchor: end;
}
.letters {
  fill: var(--ink);
  font: 16px var(--mono);
}
.point {
  cursor: pointer;
}
.hit {
  fill: transparent;
}
.point:hover .hit,
.point.open .hit {
  fill: var(--ground);
}
.interval {
  fill: var(--accent);
}
.centre {
  stroke: var(--ink);
  stroke-width: 2.5;
}
</style>
