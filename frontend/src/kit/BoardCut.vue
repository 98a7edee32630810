<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { figureOf, quantityOf } from './units'
import { grainPaths, woodTone } from './wood'

export interface CutPanel {
  code: string
  position: number
  /** Where it starts along the board, mm from its left end; null where the board leaves no room for it. */
  offset_mm?: number | null
  row?: number | null
  is_spoiled?: boolean
}

/** A board to scale with the panels that are cut from it, its defects and its trimmed ends. All mm. */
const props = defineProps<{
  name: string
  species: string
  lengthMm: number | null
  widthMm: number | null
  neededMm: number
  /** The length that the drawing's whole width stands for, so that boards are drawn to one scale. */
  scaleMm: number
  panelLengthMm: number
  panelWidthMm: number
  kerfMm: number
  endTrimMm: number
  endPieceMm: number
  panels: readonly CutPanel[]
  defects: readonly { from_mm: number; to_mm: number; kind?: string }[]
  selected?: string | null
}>()
defineEmits<{ pick: [code: string] }>()

const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
/** How many mm a pixel stands for: letters keep their size on any screen. */
const px = computed(() => props.scaleMm / (width.value || 1000))
const length = computed(() => props.lengthMm ?? props.neededMm)
const across = computed(() => props.widthMm ?? props.panelWidthMm)
const tone = computed(() => woodTone(props.species))
const grain = computed(() => grainPaths(props.name, length.value, across.value))
const placed = computed(() => props.panels.filter((panel) => panel.offset_mm != null))
const unplaced = computed(() => props.panels.filter((panel) => panel.offset_mm == null))
const top = (row: number | null | undefined) =>
  across.value - (row ?? 0) * (props.panelWidthMm + props.kerfMm) - props.panelWidthMm
const drawnDefects = computed(() =>
  props.defects
    .map((defect) => ({ ...defect, to_mm: Math.min(defect.to_mm, length.value) }))
    .filter((defect) => defect.to_mm > defect.from_mm),
)
const says = computed(() => {
  const size =
    props.lengthMm == null
      ? `not measured, at least ${quantityOf('millimetres', props.neededMm)} long`
      : `${figureOf('millimetres', length.value)} by ${quantityOf('millimetres', across.value)}`
  return `Board ${props.name}, ${size}: ${placed.value.length} panels`
})
</script>

<template>
  <div ref="box" class="board-cut">
    <svg :viewBox="`0 0 ${scaleMm} ${across + 16 * px}`" role="group" :aria-label="says">
      <rect
        class="plank"
        :class="{ unmeasured: lengthMm == null }"
        :width="length"
        :height="across"
        :fill="tone.ground"
        :stroke="tone.grain"
        :stroke-width="px"
      />
      <path
        v-for="(path, index) in grain"
        :key="index"
        :d="path"
        class="grain"
        :stroke="tone.grain"
        :stroke-width="px"
      />
      <g class="trim">
        <rect :width="Math.min(endTrimMm, length)" :height="across" />
        <rect
          v-if="lengthMm != null"
          :x="Math.max(0, length - endTrimMm)"
          :width="Math.min(endTrimMm, length)"
          :height="across"
        />
      </g>
      <g v-for="(defect, index) in drawnDefects" :key="`d${index}`" class="defect">
        <rect :x="defect.from_mm" :width="defect.to_mm - defect.from_mm" :height="across" />
        <path
          :d="`M${defect.from_mm} 0 L${defect.to_mm} ${across} M${defect.to_mm} 0 L${defect.from_mm} ${across}`"
          :stroke-width="px"
        />
        <text
          :x="Math.max((defect.from_mm + defect.to_mm) / 2, 14 * px)"
          :y="across + 12 * px"
          :font-size="11 * px"
        >
          {{ defect.kind ?? 'other' }}
        </text>
      </g>
      <g
        v-for="panel in placed"
        :key="panel.code"
        class="piece"
        :class="{ selected: panel.code === selected, spoiled: panel.is_spoiled }"
        :transform="`translate(${panel.offset_mm} ${top(panel.row)})`"
        role="button"
        tabindex="0"
        :aria-label="`${panel.position} ${panel.code}, panel${panel.is_spoiled ? ', spoiled' : ''}`"
        :aria-pressed="panel.code === selected"
        @click="$emit('pick', panel.code)"
        @keydown.enter="$emit('pick', panel.code)"
        @keydown.space.prevent="$emit('pick', panel.code)"
      >
        <rect class="cut" :width="panelLengthMm" :height="panelWidthMm" :stroke-width="px * 1.2" />
        <path
          v-if="panel.is_spoiled"
          class="struck"
          :d="`M0 0 L${panelLengthMm} ${panelWidthMm}`"
          :stroke-width="px * 1.5"
        />
        <text class="number" :x="6 * px" :y="13 * px" :font-size="11 * px">{{ panel.position }}</text>
        <text class="code" :x="panelLengthMm / 2" :y="panelWidthMm / 2 + 6 * px" :font-size="16 * px">
          {{ ` ${panel.code}` }}
        </text>
        <rect
          v-if="endPieceMm"
          class="end-piece"
          :x="panelLengthMm + kerfMm"
          :width="endPieceMm"
          :height="panelWidthMm"
          :stroke-width="px"
        />
      </g>
    </svg>
    <p v-if="unplaced.length" class="late">
      No room for
      {{ unplaced.map((panel) => `${panel.position} (${panel.code})`).join(', ') }}.
    </p>
  </div>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  height: auto;
  overflow: visible;
}
.unmeasured {
  stroke-dasharray: 20 14;
}
.grain {
  fill: none;
  opacity: 0.4;
}
.trim rect {
  fill: #1d232133;
}
.defect rect {
  fill: #6d3b2699;
}
.defect path {
  stroke: #3a1f12;
  fill: none;
}
.defect text {
  fill: var(--quiet);
  font-family: var(--sans);
  text-anchor: middle;
}
.piece {
  cursor: pointer;
  outline: none;
}
.cut {
  fill: #fffdf6b3;
  stroke: #1d2321;
}
.piece:focus-visible .cut,
.selected .cut {
  fill: #fffdf6;
  stroke-width: 10;
}
.end-piece {
  fill: #fffdf680;
  stroke: #1d2321;
  stroke-dasharray: 8 5;
}
.struck {
  stroke: #b3261e;
}
.piece text {
  fill: #1d2321;
  font-family: var(--mono);
}
.number {
  opacity: 0.85;
}
.code {
  font-weight: 700;
  text-anchor: middle;
}
</style>
