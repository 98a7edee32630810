<script setup lang="ts">
import type { BlindPanel } from './model'

/** All panels of the sitting in the judge's order: which are graded, which is in hand; press one to take it. */
defineProps<{ panels: readonly BlindPanel[]; here: number }>()
defineEmits<{ take: [index: number] }>()

function stateOf(panel: BlindPanel): 'graded' | 'begun' | 'to grade' {
  const asks = panel.spots.flatMap((spot) => spot.asks)
  const n = asks.filter((ask) => ask.value != null).length
  return n === 0 ? 'to grade' : n < asks.length ? 'begun' : 'graded'
}
</script>

<template>
  <div class="strip">
    <button
      v-for="(panel, index) in panels"
      :key="`${panel.code}/${panel.turn}`"
      class="mono"
      :class="[stateOf(panel).replace(' ', '-'), { here: index === here }]"
      :aria-current="index === here ? 'true' : undefined"
      :aria-label="`${panel.code}, ${stateOf(panel)}`"
      @click="$emit('take', index)"
    >
      {{ panel.code }}
    </button>
  </div>
</template>

<style scoped>
.strip {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(46px, 1fr));
  gap: 3px;
  margin-top: 6px;
}
button {
  min-height: 44px;
  padding: 0;
  border: 1px solid var(--hairline);
  background: none;
  color: var(--ink);
  font-size: 14px;
  cursor: pointer;
}
.begun,
.graded {
  border-bottom: 4px solid var(--accent);
}
.graded {
  background: var(--rail);
  color: var(--quiet);
}
.here {
  outline: 2px solid var(--ink);
  outline-offset: -1px;
  font-weight: 700;
}
</style>
