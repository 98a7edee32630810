<script setup lang="ts">
import { computed } from 'vue'
import { place } from './scale'

/** A thick short bar with a centre tick on the axis from `from` to `to`; the bar is clipped at the axis' ends. */
const props = defineProps<{
  from: number
  to: number
  mean: number
  low?: number | null
  high?: number | null
  gate?: number | null
}>()

const at = (value: number) => place(value, props.from, props.to)
const bar = computed(() =>
  props.low == null || props.high == null ? null : { left: at(props.low), right: at(props.high) },
)
</script>

<template>
  <svg class="bar" viewBox="0 0 100 12" preserveAspectRatio="none" aria-hidden="true">
    <line x1="0" x2="100" y1="6" y2="6" class="axis" vector-effect="non-scaling-stroke" />
    <line
      v-if="gate != null"
      :x1="at(gate)"
      :x2="at(gate)"
      y1="0"
      y2="12"
      class="gate"
      vector-effect="non-scaling-stroke"
    />
    <rect
      v-if="bar"
      :x="bar.left"
      y="4"
      :width="Math.max(bar.right - bar.left, 0.6)"
      height="4"
      class="span"
    />
    <line :x1="at(mean)" :x2="at(mean)" y1="1" y2="11" class="centre" vector-effect="non-scaling-stroke" />
  </svg>
</template>

<style scoped>
.bar {
  display: block;
  width: 100%;
  height: 12px;
}
.axis {
  stroke: var(--line);
  stroke-width: 1;
}
.gate {
  stroke: var(--caution);
  stroke-width: 1.5;
  stroke-dasharray: 2 2;
}
.span {
  fill: var(--accent);
}
.centre {
  stroke: var(--ink);
  stroke-width: 2;
}
</style>
