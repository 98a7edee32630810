<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, useTemplateRef } from 'vue'
import { axisFor, lanesOf, xOf, type Block, type Zoom } from './lanes'
import { clockOf, STATE_WORDS, stateOf, type BenchDay, type Operation } from './model'

/** The day as lanes: each pair of hands with its work as blocks on a time axis, and where now is. */
const props = defineProps<{
  operations: readonly Operation[]
  hands: readonly { id: number; name: string }[]
  days: readonly BenchDay[]
  zoom: Zoom
  at: number
  now: number
  zone: string
  selected: number | null
}>()
defineEmits<{ pick: [id: number] }>()

const ROW_PX = 28
const TOP_PX = 30
const GAP_PX = 14
const NAME_PX = 106
const frame = useTemplateRef<HTMLElement>('frame')
const { width: frameWidth } = useElementSize(frame, { width: 1000, height: 0 })
const width = computed(() => Math.max(320, frameWidth.value) - NAME_PX)
const axis = computed(() => axisFor(props.zoom, props.days, props.at, width.value, props.zone))
const lanes = computed(() => {
  let top = TOP_PX
  return lanesOf(props.operations, props.hands, axis.value, props.zoom).map((lane) => {
    const height = lane.nRows * ROW_PX + 10
    const placed = { ...lane, top, height }
    top += height + GAP_PX
    return placed
  })
})
const height = computed(() => {
  const last = lanes.value.at(-1)
  return (last ? last.top + last.height : TOP_PX + 60) + 20
})
const nowX = computed(() => xOf(axis.value, props.now))

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
  <div ref="frame" class="frame sheet">
    <svg
      :viewBox="`0 0 ${width + NAME_PX} ${height}`"
      :width="width + NAME_PX"
      :height="height"
      role="group"
      aria-label="The day by hands"
    >
      <defs>
        <pattern
          id="hatch-hot"
          width="6"
          height="6"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="6" height="6" class="hot" />
          <line x1="0" y1="0" x2="0" y2="6" class="hatch" />
        </pattern>
      </defs>
      <g :transform="`translate(${NAME_PX} 0)`">
        <g v-for="lane in lanes" :key="lane.id">
          <text class="name" :x="-NAME_PX + 12" :y="lane.top + 22">{{ lane.name.split(' ')[0] }}</text>
          <text class="name rest" :x="-NAME_PX + 12" :y="lane.top + 38">
            {{ lane.name.split(' ').slice(1).join(' ').slice(0, 15) }}
          </text>
          <rect
            v-for="(segment, index) in axis.segments"
            :key="index"
            class="lane"
            :x="segment.x0"
            :y="lane.top"
            :width="Math.max(0, segment.x1 - segment.x0)"
            :height="lane.height"
          />
        </g>
        <g v-for="(tick, index) in axis.ticks" :key="index">
          <line
            :x1="tick.x"
            :x2="tick.x"
            :y1="tick.isMajor ? 18 : 23"
            :y2="tick.isMajor && zoom !== 'week' ? height - 14 : 28"
            class="tick"
          />
          <text v-if="tick.label" class="time" :x="tick.x + 4" y="14">{{ tick.label }}</text>
        </g>
        <g v-for="lane in lanes" :key="`blocks-${lane.id}`">
          <g
            v-for="block in lane.blocks"
            :key="block.operation.id"
            class="block"
            :class="[block.operation.kind, stateOf(block.operation, now), { hot: block.operation.is_hot }]"
            :transform="`translate(${block.x} ${lane.top + 5 + block.row * ROW_PX})`"
            @click="$emit('pick', block.operation.id)"
          >
            <title>{{ titleOf(block) }}</title>
            <rect
              v-if="block.together.some((each) => each.id === selected)"
              class="chosen"
              x="-3.5"
              y="-3.5"
              :width="block.width + 7"
              :height="ROW_PX + 1"
            />
            <rect class="body" :width="block.width" :height="ROW_PX - 6" />
            <path
              v-if="
                block.together.every((each) => each.turns.every((turn) => turn.ended_at)) && block.width >= 12
              "
              class="check"
              :d="`M${block.width / 2 - 4} 11 l3 4 l6 -8`"
            />
            <text v-if="block.label" class="label" :x="block.width + 5" y="16">{{ block.label }}</text>
          </g>
        </g>
        <g v-if="nowX !== null" class="now">
          <line :x1="nowX" :x2="nowX" y1="18" :y2="height - 14" />
          <text
            :x="nowX > width - 70 ? nowX - 5 : nowX + 5"
            :y="height - 4"
            :text-anchor="nowX > width - 70 ? 'end' : 'start'"
          >
            now {{ clockOf(now, zone) }}
          </text>
        </g>
      </g>
    </svg>
    <div class="foot">
      <slot />
      <p class="legend quiet">
        <span class="key coat" />coat <span class="key wipe" />wipe off <span class="key lay" />lay
        <span class="key lift" />lift <span class="key look" />look <span class="key hot" />hot
        <span class="key small" />abrade, weigh
      </p>
    </div>
  </div>
</template>

<style scoped>
.frame {
  overflow: hidden;
}
svg {
  display: block;
}
.lane {
  fill: var(--ground);
  stroke: var(--hairline);
}
.tick {
  stroke: var(--hairline);
  pointer-events: none;
}
.time {
  font: 12px var(--mono);
  fill: var(--quiet);
}
.name {
  font: 700 15px var(--sans);
  fill: var(--ink);
}
.name.rest {
  font-weight: 400;
  font-size: 12px;
  fill: var(--quiet);
}
.block {
  cursor: pointer;
}
.body,
.key {
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
.look .body {
  fill: #d2cce4;
}
.abrade .body,
.weigh .body {
  fill: #b9c2bb;
}
/* A black block is seen on a dark ground by its edge. */
html.dark .body,
html.dark .key {
  border-color: #eceeea;
  stroke: #eceeea;
}
rect.hot {
  fill: #b4472b;
}
.hatch {
  stroke: #f7f8f5;
  stroke-width: 1.5;
}
.block.lay.hot .body,
.block.lift.hot .body {
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
.now line {
  stroke: var(--late);
  stroke-width: 2;
}
.now text {
  font: 700 12px var(--sans);
  fill: var(--late);
}
.foot {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 8px 16px;
  padding: 2px 12px 10px;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 6px;
  font-size: 13px;
}
.key {
  width: 14px;
  height: 14px;
  margin-left: 10px;
  border: 1px solid #1d2321;
}
.key:first-child {
  margin-left: 0;
}
.key.coat {
  background: #0b6e63;
}
.key.wipe {
  background: #f0c36a;
}
.key.lay {
  background: #ffffff;
}
.key.lift {
  background: #1d2321;
}
.key.look {
  background: #d2cce4;
}
.key.hot {
  background: repeating-linear-gradient(45deg, #b4472b 0 4px, #f7f8f5 4px 5px);
}
.key.small {
  background: #b9c2bb;
}
</style>
