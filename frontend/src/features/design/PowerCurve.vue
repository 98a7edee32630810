<script setup lang="ts">
import { GRADE } from '@/kit/grades'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

/** How surely a difference would be noticed: the design's curve, and dashed those of fewer and of more boards. */
const props = defineProps<{ power: Schemas['Power'] }>()

const WIDTH = 420
const HEIGHT = 210
const LEFT = 40
const TOP = 10
const BOTTOM = 176
const RIGHT = WIDTH - 10
const MOST = GRADE.highest - GRADE.lowest
const TICKS = Array.from({ length: MOST + 1 }, (_, grade) => grade)

const x = (difference: number) => LEFT + (difference / MOST) * (RIGHT - LEFT)
const y = (power: number) => BOTTOM - power * (BOTTOM - TOP)
const path = (curve: readonly (readonly number[])[]) =>
  curve
    .map(([difference, power], index) => `${index ? 'L' : 'M'}${x(difference ?? 0)} ${y(power ?? 0)}`)
    .join('')

const here = computed(() => props.power.here)
const beside = computed(() =>
  [
    { reach: props.power.fewer, curve: props.power.curve_fewer },
    { reach: props.power.more, curve: props.power.curve_more },
  ].filter((item) => item.reach && item.curve.length),
)
const mark = computed(() => {
  const reach = here.value.told_apart
  return reach != null && reach <= MOST ? reach : null
})
const boards = (n: number) => (n === 1 ? '1 board' : `${n} boards`)
const says = computed(() =>
  here.value.told_apart == null
    ? `With ${boards(here.value.n_boards)} no difference is ever noticed.`
    : `With ${boards(here.value.n_boards)} a difference of ${here.value.told_apart.toFixed(1)} grades is noticed 8 times in 10.`,
)
</script>

<template>
  <figure>
    <figcaption>How often a true difference would be noticed</figcaption>
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="says">
      <g class="grid">
        <template v-for="share in [0, 0.2, 0.4, 0.6, 0.8, 1]" :key="share">
          <path :d="`M${LEFT} ${y(share)} H${RIGHT}`" :class="{ aim: share === 0.8 }" />
          <text :x="LEFT - 6" :y="y(share) + 4" class="end">{{ Math.round(share * 100) }} %</text>
        </template>
        <template v-for="grade in TICKS" :key="`g${grade}`">
          <path :d="`M${x(grade)} ${BOTTOM} v4`" />
          <text :x="x(grade)" :y="BOTTOM + 17" class="mid">{{ grade }}</text>
        </template>
        <text :x="(LEFT + RIGHT) / 2" :y="BOTTOM + 32" class="mid">true difference, grades</text>
      </g>
      <path v-for="item in beside" :key="item.reach?.n_boards" :d="path(item.curve)" class="curve beside" />
      <path :d="path(power.curve)" class="curve" />
      <g v-if="mark != null">
        <path :d="`M${x(mark)} ${y(0.8)} V${BOTTOM}`" class="drop" />
        <circle :cx="x(mark)" :cy="y(0.8)" r="5" class="mark" />
      </g>
    </svg>
    <p class="legend quiet">
      <span class="line" aria-hidden="true"></span> {{ boards(here.n_boards) }}
      <template v-if="beside.length">
        <span class="line dashed" aria-hidden="true"></span>
        {{ beside.map((item) => boards(item.reach?.n_boards ?? 0)).join(' and ') }}
      </template>
    </p>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
figcaption {
  font-weight: 600;
}
svg {
  display: block;
  width: 100%;
  max-width: 520px;
  height: auto;
}
.grid path {
  stroke: var(--hairline);
  stroke-width: 1;
}
.grid .aim {
  stroke: var(--line);
  stroke-dasharray: 5 3;
}
text {
  fill: var(--quiet);
  font: 12px var(--sans);
}
.end {
  text-anchor: end;
}
.mid {
  text-anchor: middle;
}
.curve {
  fill: none;
  stroke: var(--accent);
  stroke-width: 3;
}
.beside {
  stroke: var(--quiet);
  stroke-width: 1.5;
  stroke-dasharray: 4 4;
}
.drop {
  stroke: var(--accent);
  stroke-width: 1.5;
}
.mark {
  fill: var(--paper);
  stroke: var(--accent);
  stroke-width: 3;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  font-size: 14px;
}
.line {
  width: 24px;
  border-top: 3px solid var(--accent);
}
.dashed {
  margin-left: 12px;
  border-top: 2px dashed var(--quiet);
}
</style>
