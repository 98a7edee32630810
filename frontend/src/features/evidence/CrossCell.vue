<script setup lang="ts">
import GradeMark from '@/kit/GradeMark.vue'
import IntervalBar from '@/kit/IntervalBar.vue'
import type { Axis } from './axis'

/** One cell of a crossing: its mark, its number and its interval; opens the readings behind it. */
defineProps<{
  mean: number | null
  low: number | null
  high: number | null
  text: string
  name: string
  axis: Axis
  isGrade: boolean
  /** Whether it breaks the rule most. */
  isOdd: boolean
  isOpen: boolean
}>()
defineEmits<{ open: [] }>()
</script>

<template>
  <button
    class="cell"
    :class="{ odd: isOdd, open: isOpen }"
    :aria-label="`${name}: ${text}. Show the readings.`"
    @click="$emit('open')"
  >
    <span class="value"
      ><GradeMark v-if="isGrade && mean != null" :grade="mean" :size="24" /><b class="mono">{{
        text
      }}</b></span
    >
    <IntervalBar v-if="mean != null" :from="axis.from" :to="axis.to" :mean="mean" :low="low" :high="high" />
  </button>
</template>

<style scoped>
.cell {
  display: flex;
  flex-direction: column;
  gap: 4px;
  width: 100%;
  min-height: 44px;
  padding: 7px 10px 8px;
  border: 0;
  background: none;
  color: var(--ink);
  cursor: pointer;
}
.cell.odd {
  box-shadow: inset 0 0 0 2px var(--caution);
}
.cell:hover,
.cell.open {
  box-shadow: inset 0 0 0 2px var(--accent);
}
.value {
  display: flex;
  align-items: center;
  gap: 8px;
  font-size: 17px;
}
</style>
