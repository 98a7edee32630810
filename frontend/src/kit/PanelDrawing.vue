<script setup lang="ts">
import { computed } from 'vue'
import { gradeText, markFill, markRadius } from './grades'
import { ruleTicks } from './scale'
import { figureOf, quantityOf, unitSystem } from './units'
import { labelLines, layTabs, siteBox, siteShape, TAB_ROW } from './sites'
import { GLASS, grainPaths, woodTone } from './wood'

/** A masked part of the panel, by its number; the name is for keepers alone. */
export interface DrawnArea {
  place: number
  x_mm: number
  y_mm: number
  length_mm: number
  width_mm: number
  name?: string
}

export interface DrawnSpot {
  exposure: string
  /** What tells it from the panel's other spots; the exposure, unless that stands there several times. */
  id?: string
  x_mm: number
  y_mm: number
  diameter_mm: number
  /** What it is when it is no ring; it reaches so far along and across then. */
  kind?: string
  along_mm?: number
  across_mm?: number
  label: string
  grade?: number | null
  /** What was read there, where that is no grade. */
  words?: string
  note?: string
  /** Something lies there now. */
  isLying?: boolean
}

/**
 * One panel to scale, its length along the grain, with a millimetre rule. Origin at the lower left corner.
 * Without `selected` it is a picture; with it, spots can be picked.
 */
const props = defineProps<{
  code: string
  species: string
  lengthMm: number
  widthMm: number
  spots: readonly DrawnSpot[]
  areas?: readonly DrawnArea[]
  selected?: string | null
  /** Larger text for a drawing that is shown small. */
  textScale?: number
}>()
defineEmits<{ pick: [id: string] }>()

const isGlass = computed(() => props.species === '')
const tone = computed(() => (isGlass.value ? GLASS : woodTone(props.species)))
const grain = computed(() => (isGlass.value ? [] : grainPaths(props.code, props.lengthMm, props.widthMm)))
const ticks = computed(() => ruleTicks(props.lengthMm, unitSystem.value))
// Text is laid out for a panel of 400 mm; a longer one is drawn smaller, so its text must be larger in mm.
const unit = computed(() => (props.lengthMm / 400) * (props.textScale ?? 1))
/** Large rings hold their label; a small one has it below, above the next ring or the edge. */
const holdsLabel = (spot: DrawnSpot) => shapeOf(spot) !== 'ring' || spot.diameter_mm > 60
const shapeOf = (spot: DrawnSpot) => siteShape(spot.kind)
/** What takes the whole face lies under everything else: each is a tab above the panel. */
const placed = computed(() => props.spots.filter((spot) => shapeOf(spot) !== 'tab'))
const tabs = computed(() =>
  layTabs(
    props.spots.filter((spot) => shapeOf(spot) === 'tab'),
    props.lengthMm,
    unit.value,
  ),
)
const head = computed(() => 4 + tabs.value.rows * TAB_ROW * unit.value)
const boxOf = (spot: DrawnSpot) => siteBox(spot, props.lengthMm)

/** A small ring's label in lines; all others hold theirs. */
const linesOf = (spot: DrawnSpot) =>
  holdsLabel(spot)
    ? [spot.label]
    : labelLines(
        spot,
        placed.value.filter((each) => !holdsLabel(each)),
        unit.value,
      )

const idOf = (spot: DrawnSpot) => spot.id ?? spot.exposure

/** The end-grain piece is drawn beside its panel. */
const endRoom = computed(() => (props.spots.some((spot) => spot.kind === 'end') ? 22 : 0))
/** Whether a strip is too narrow for its name, and it is written along it. */
const isUpright = (spot: DrawnSpot) =>
  shapeOf(spot) === 'box' && (spot.kind === 'end' || (spot.along_mm ?? 0) < (spot.across_mm ?? 0) * 0.6)
const wordsBelow = (spot: DrawnSpot) =>
  shapeOf(spot) === 'box' ? 13 * unit.value : holdsLabel(spot) ? 4 * unit.value : 3 * unit.value

function seenOn(spot: DrawnSpot): string {
  return spot.grade != null ? ` ${gradeText(spot.grade)}` : spot.words ? ` ${spot.words}` : ''
}

function nameOf(spot: DrawnSpot): string {
  // What is seen comes first and unbroken, so that a voice command can say it.
  const grade = spot.grade == null ? (spot.grade === null ? ', not graded' : '') : ` ${gradeText(spot.grade)}`
  return `${spot.label}${spot.words ? `, ${spot.words}` : grade}${spot.note ? ', with a note' : ''}`
}
</script>

<template>
  <svg
    class="panel"
    :viewBox="`-14 ${-head} ${lengthMm + 28 + endRoom} ${widthMm + head + 22 * unit}`"
    role="group"
    :aria-label="`Panel ${code}, ${figureOf('millimetres', lengthMm)} by ${quantityOf('millimetres', widthMm)}`"
  >
    <rect :width="lengthMm" :height="widthMm" :fill="tone.ground" :stroke="tone.grain" stroke-width="0.6" />
    <path
      v-for="(path, index) in grain"
      :key="index"
      :d="path"
      :stroke="tone.grain"
      class="grain"
      :stroke-width="0.5 + (index % 3) * 0.25"
    />
    <g v-for="area in areas" :key="area.place" class="area">
      <rect
        :x="area.x_mm"
        :y="widthMm - area.y_mm - area.width_mm"
        :width="area.length_mm"
        :height="area.width_mm"
      />
      <text :x="area.x_mm + 5" :y="widthMm - area.y_mm - area.width_mm + 11 * unit" :font-size="8.2 * unit">
        {{ area.name ?? `Section ${area.place}` }}
      </text>
    </g>
    <g
      v-for="tab in tabs.laid"
      :key="idOf(tab.spot)"
      class="spot tab"
      :class="{ selected: idOf(tab.spot) === selected }"
      :role="selected === undefined ? 'img' : 'button'"
      :aria-label="nameOf(tab.spot)"
      :aria-pressed="selected === undefined ? undefined : idOf(tab.spot) === selected"
      :data-exposure="tab.spot.exposure"
      @click="$emit('pick', idOf(tab.spot))"
    >
      <rect
        :x="tab.x"
        :y="tab.y"
        :width="tab.width"
        :height="16 * unit"
        class="strip"
        :class="{ chosen: idOf(tab.spot) === selected }"
      />
      <text :x="tab.x + 5 * unit" :y="tab.y + 11.5 * unit" :font-size="8.2 * unit">
        {{ tab.spot.label }}
        <tspan class="seen">{{ seenOn(tab.spot) }}</tspan>
      </text>
    </g>
    <g
      v-for="spot in placed"
      :key="idOf(spot)"
      class="spot"
      :class="{ selected: idOf(spot) === selected }"
      :transform="`translate(${spot.x_mm} ${widthMm - spot.y_mm})`"
      :role="selected === undefined ? 'img' : 'button'"
      :aria-label="nameOf(spot)"
      :aria-pressed="selected === undefined ? undefined : idOf(spot) === selected"
      :data-exposure="spot.exposure"
      @click="$emit('pick', idOf(spot))"
    >
      <template v-if="shapeOf(spot) !== 'ring'">
        <rect
          v-bind="boxOf(spot)"
          class="strip"
          :class="[spot.kind, { chosen: idOf(spot) === selected, lying: spot.isLying }]"
        />
      </template>
      <template v-else>
        <circle class="ring" :class="{ lying: spot.isLying }" :r="spot.diameter_mm / 2" />
        <circle class="target" :r="Math.max(spot.diameter_mm / 2, 20)" />
      </template>
      <template v-if="shapeOf(spot) === 'ring' && idOf(spot) === selected">
        <circle class="chosen" :r="spot.diameter_mm / 2" />
        <path
          v-for="turn in holdsLabel(spot) ? [0, 90, 180, 270] : [0, 90, 270]"
          :key="turn"
          class="cross"
          :d="`M0 ${-spot.diameter_mm / 2 - 2.5} v-4`"
          :transform="`rotate(${turn})`"
        />
      </template>
      <text
        class="label"
        :y="
          shapeOf(spot) === 'box' ? 3 * unit : holdsLabel(spot) ? -12 * unit : spot.diameter_mm / 2 + 9 * unit
        "
        :font-size="8.2 * unit"
        :transform="isUpright(spot) ? 'rotate(-90)' : undefined"
      >
        <template v-for="(line, nth) in linesOf(spot)" :key="nth">
          <!-- A space between the lines, so that what is seen is what the site is called. -->
          {{ nth > 0 ? ' ' : '' }}
          <tspan x="0" :dy="nth * 8.2 * unit">{{ line }}</tspan>
        </template>
      </text>
      <text v-if="spot.words" class="label seen" :y="wordsBelow(spot)" :font-size="7.4 * unit">
        {{ spot.words }}
      </text>
      <g
        v-if="spot.grade != null"
        :transform="`translate(0 ${shapeOf(spot) === 'box' ? 16 * unit : holdsLabel(spot) ? 6 : 0}) scale(${unit})`"
      >
        <rect class="badge" x="-17" y="-8" width="34" height="17" />
        <g transform="translate(-7 0.5) scale(0.58)">
          <circle r="11" class="mark-ring" />
          <circle
            v-if="markRadius(spot.grade) > 0"
            :r="markRadius(spot.grade)"
            :fill="markFill(spot.grade)"
          />
        </g>
        <text class="digit" x="8" y="4.6">{{ ` ${gradeText(spot.grade)}` }}</text>
      </g>
      <path
        v-if="spot.note"
        class="noted"
        d="M-3 0 h6 v5 h-3 l-2 2 v-2 h-1 Z"
        :transform="`translate(${spot.diameter_mm / 2 - 5} ${spot.diameter_mm / 2 - 6})`"
      />
    </g>
    <g class="rule" :transform="`translate(0 ${widthMm + 4})`" aria-hidden="true">
      <path v-for="tick in ticks" :key="tick.mm" :d="`M${tick.mm} 0 v${tick.isLong ? 6 : 2.6}`" />
      <template v-for="tick in ticks" :key="`t${tick.mm}`">
        <text v-if="tick.label" :x="tick.mm" :y="8 + 8 * unit" :font-size="7.4 * unit">{{ tick.label }}</text>
      </template>
    </g>
  </svg>
</template>

<style scoped>
.panel {
  display: block;
  width: 100%;
  height: auto;
}
.grain {
  fill: none;
  opacity: 0.45;
}
.area rect {
  fill: none;
  stroke: #3a2f22;
  stroke-width: 0.9;
  stroke-dasharray: 7 3;
}
.area text {
  fill: #1d2321;
  font-family: var(--sans);
}
.spot {
  cursor: pointer;
  outline: none;
}
.ring {
  fill: #ffffff24;
  stroke: #3a2f22;
  stroke-width: 0.7;
  stroke-dasharray: 2.2 1.8;
}
.strip {
  fill: #ffffff24;
  stroke: #3a2f22;
  stroke-width: 0.7;
  stroke-dasharray: 2.2 1.8;
}
.strip.part {
  fill: #5a7a8a2e;
}
.strip.end {
  fill: #00000014;
}
.strip.chosen {
  fill: none;
  stroke: #1d2321;
  stroke-dasharray: none;
  stroke-width: 1.7;
}
.lying {
  fill: #0b6e63;
  stroke-dasharray: none;
}
.tab .strip {
  fill: var(--paper);
  stroke: var(--line);
  stroke-dasharray: none;
}
.tab .strip.chosen {
  stroke: var(--ink);
}
.tab text {
  fill: var(--ink);
  font-family: var(--sans);
}
.tab.selected text {
  font-weight: 700;
}
.seen {
  font-family: var(--mono);
}
.target {
  fill: transparent;
}
.chosen {
  fill: none;
  stroke: #1d2321;
  stroke-width: 1.7;
}
.cross {
  stroke: #1d2321;
  stroke-width: 1.7;
}
.label {
  fill: #1d2321;
  font-family: var(--sans);
  text-anchor: middle;
}
.selected .label {
  font-weight: 700;
}
.badge {
  fill: #f7f8f5;
  stroke: #1d2321;
  stroke-width: 0.7;
}
.mark-ring {
  fill: #f7f8f5;
  stroke: #1d2321;
  stroke-width: 1.6;
}
.digit {
  fill: #1d2321;
  font: 700 12px var(--mono);
  text-anchor: middle;
}
.noted {
  fill: #1d2321;
}
.rule path {
  stroke: var(--quiet);
  stroke-width: 0.6;
}
.rule text {
  fill: var(--quiet);
  font-family: var(--mono);
  text-anchor: middle;
}
</style>
