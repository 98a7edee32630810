<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, useTemplateRef } from 'vue'
import LaneBlock from './LaneBlock.vue'
import { axisFor, lanesOf, xOf, type Zoom } from './lanes'
import LanesLegend from './LanesLegend.vue'
import { clockOf, type BenchDay, type Operation } from './model'

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
          <LaneBlock
            v-for="block in lane.blocks"
            :key="block.operation.id"
            :block="block"
            :now="now"
            :zone="zone"
            :selected="selected"
            :height-px="ROW_PX - 6"
            :transform="`translate(${block.x} ${lane.top + 5 + block.row * ROW_PX})`"
            @click="$emit('pick', block.operation.id)"
          />
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
      <LanesLegend />
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
rect.hot {
  fill: #b4472b;
}
.hatch {
  stroke: #f7f8f5;
  stroke-width: 1.5;
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
</style>
