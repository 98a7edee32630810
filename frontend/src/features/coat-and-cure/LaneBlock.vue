<script setup lang="ts">
import type { Block } from './lanes'
import { clockOf, STATE_WORDS, stateOf } from './model'

/** A pass, or several that lie together, as a block on its lane. */
const props = defineProps<{
  block: Block
  now: number
  zone: string
  selected: number | null
  heightPx: number
}>()

function titleOf(block: Block): string {
  const { operation, together } = block
  if (together.length > 1) {
    const from = clockOf(together[0]?.start_at ?? operation.start_at, props.zone)
    const to = clockOf(together.at(-1)?.end_at ?? operation.end_at, props.zone)
    const what = [...new Set(together.map((each) => each.what))].join('; ')
    return `${together.length} together, ${from} to ${to}: ${what}`
  }
  const codes = operation.turns.map((turn) => turn.code).join(', ')
  const times = `${clockOf(operation.start_at, props.zone)} to ${clockOf(operation.end_at, props.zone)}`
  return `${operation.what}, ${codes}, ${times}, ${STATE_WORDS[stateOf(operation, props.now)]}`
}
</script>

<template>
  <g
    class="block"
    :class="[block.operation.kind, stateOf(block.operation, now), { hot: block.operation.is_hot }]"
  >
    <title>{{ titleOf(block) }}</title>
    <rect
      v-if="block.together.some((each) => each.id === selected)"
      class="chosen"
      x="-3.5"
      y="-3.5"
      :width="block.width + 7"
      :height="heightPx + 7"
    />
    <rect class="body" :width="block.width" :height="heightPx" />
    <path
      v-if="block.together.every((each) => each.turns.every((turn) => turn.ended_at)) && block.width >= 12"
      class="check"
      :d="`M${block.width / 2 - 4} 11 l3 4 l6 -8`"
    />
    <text v-if="block.label" class="label" :x="block.width + 5" y="16">{{ block.label }}</text>
  </g>
</template>

<style scoped>
.block {
  cursor: pointer;
}
.body {
  stroke: #1d2321;
  stroke-width: 1;
}
.coat .body {
  fill: #0b6e63;
}
.wipe .body {
  fill: #f0c36a;
}
.lay .body {
  fill: #ffffff;
}
.lift .body {
  fill: #1d2321;
}
.act .body {
  fill: #a8cfe0;
}
.look .body {
  fill: #d2cce4;
}
.block.work .body,
.abrade .body,
.weigh .body {
  fill: #b9c2bb;
}
/* A black block is seen on a dark ground by its edge. */
html.dark .body {
  stroke: #eceeea;
}
.block.lay.hot .body,
.block.lift.hot .body,
.block.act.hot .body {
  fill: url(#hatch-hot);
}
.block.done .body,
.block.skipped .body {
  opacity: 0.45;
}
.block.behind .body {
  stroke: var(--late);
  stroke-width: 3;
}
.block.running .body {
  stroke: var(--accent);
  stroke-width: 3;
}
.chosen {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
.check {
  fill: none;
  stroke: #1d2321;
  stroke-width: 2;
}
.coat .check,
.lift .check {
  stroke: #f7f8f5;
}
.label {
  font: 12px var(--sans);
  fill: var(--ink);
}
</style>
