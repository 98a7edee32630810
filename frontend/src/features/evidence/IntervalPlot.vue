<script setup lang="ts">
import { computed, ref } from 'vue'
import { place } from '@/kit/scale'
import SaveButtons from '@/kit/SaveButtons.vue'
import { csvText } from '@/kit/save'
import { axisOf } from './axis'
import { aboutNumbers, tickText, told } from './told'
import type { TestEvidence } from './model'

/** One test: each build-up's middle and interval, every panel's dot with its board's joined, and the letters. */
const props = defineProps<{
  test: TestEvidence
  response: string
  title: string
  behind: string | null
}>()
defineEmits<{ open: [system: string] }>()

const LEFT = 216
const WIDTH = 266
const LEAST_RIGHT = 100
const LETTER = 9
const MOST_LETTERS = 28
const ROW = 38
const drawing = ref<SVGSVGElement | null>(null)
const axis = computed(() => axisOf(props.response, [props.test]))
const margin = computed(() => (axis.value.to - axis.value.from) / 20)
const at = (value: number) =>
  LEFT + (WIDTH * place(value, axis.value.from - margin.value, axis.value.to + margin.value)) / 100
const height = computed(() => props.test.systems.length * ROW + 34)
const about = computed(() => aboutNumbers(props.test))
const rows = computed(() =>
  props.test.systems.map((row, index) => ({
    ...told(props.response, props.test, row),
    system: row.system,
    letters: row.letters,
    y: index * ROW + 20,
  })),
)
/** Room for what is said of the longest. */
const right = computed(() =>
  Math.max(LEAST_RIGHT, ...rows.value.map((row) => 24 + LETTER * `${row.text} ${row.letters}`.length)),
)
/** Values stand on this axis: not where scores stand for shares, times or choices. */
const hasDots = computed(() => ['difference', 'ratio', 'rank'].includes(props.test.told_as))
const boards = computed(() => {
  if (!hasDots.value) return []
  const y = new Map(rows.value.map((row) => [row.system, row.y]))
  const found = new Map<string, { x: number; y: number; panel: string; system: string; value: number }[]>()
  for (const value of props.test.values) {
    const top = y.get(value.system)
    if (top == null) continue
    const dots = found.get(value.board) ?? []
    dots.push({
      x: at(value.value),
      y: top + 11,
      panel: value.panel,
      system: value.system,
      value: value.value,
    })
    found.set(value.board, dots)
  }
  return [...found].map(([board, dots]) => ({ board, dots: dots.sort((a, b) => a.y - b.y) }))
})
const isJoined = computed(() => boards.value.length <= 12 && !props.test.sections)
/** A long name in two lines, the second cut where even that is not enough. */
function inLines(name: string): string[] {
  if (name.length <= MOST_LETTERS) return [name]
  const middle = Math.ceil(name.length / 2)
  const at = name.indexOf(' ', middle - 4)
  const cut = at > 0 ? at : middle
  return [name.slice(0, cut), name.slice(cut).trim()].map((line) =>
    line.length > MOST_LETTERS ? `${line.slice(0, MOST_LETTERS - 1)}…` : line,
  )
}
const csv = () =>
  csvText(
    ['build-up', 'board', 'panel', 'section', 'value'],
    props.test.values.map((each) => [each.system, each.board, each.panel, each.section, each.value]),
  )
</script>

<template>
  <figure class="plot">
    <figcaption class="row">
      <span class="grow"
        >{{ title }}: {{ about.plain }}
        <details>
          <summary class="quiet">the statistician’s words</summary>
          <small class="quiet">{{ about.term }}</small>
        </details></span
      >
      <SaveButtons :name="title" :svg="drawing" :csv="csv" />
    </figcaption>
    <svg
      ref="drawing"
      :viewBox="`0 0 ${LEFT + WIDTH + right} ${height}`"
      role="group"
      :aria-label="`Interval plot of ${title}`"
    >
      <g v-for="tick in axis.ticks" :key="tick">
        <line :x1="at(tick)" :x2="at(tick)" y1="4" :y2="height - 22" class="grid" />
        <text :x="at(tick)" :y="height - 6" class="tick">{{ tickText(response, test, tick) }}</text>
      </g>
      <g v-for="board in boards" :key="board.board" aria-hidden="true">
        <polyline
          v-if="isJoined"
          :points="board.dots.map((dot) => `${dot.x},${dot.y}`).join(' ')"
          class="join"
        />
        <circle
          v-for="dot in board.dots"
          :key="`${dot.panel}-${dot.value}`"
          :cx="dot.x"
          :cy="dot.y"
          r="3"
          class="dot"
        >
          <title>{{ dot.panel }}, board {{ board.board }}: {{ dot.value.toFixed(2) }}</title>
        </circle>
      </g>
      <g
        v-for="row in rows"
        :key="row.system"
        class="point"
        :class="{ open: row.system === behind }"
        :transform="`translate(0 ${row.y})`"
        role="button"
        tabindex="0"
        @click="$emit('open', row.system)"
        @keydown.enter="$emit('open', row.system)"
        @keydown.space.prevent="$emit('open', row.system)"
      >
        <rect x="0" :y="-ROW / 2" :width="LEFT + WIDTH + right" :height="ROW" class="hit" />
        <text class="name">
          <tspan
            v-for="(line, n) in inLines(row.system)"
            :key="n"
            :x="LEFT - 14"
            :y="inLines(row.system).length > 1 ? -4 + 16 * n : 5"
          >
            {{ line }}
          </tspan>
        </text>
        <rect
          v-if="row.low != null"
          :x="at(row.low)"
          y="-5"
          :width="Math.max(at(row.high ?? axis.to) - at(row.low), 1)"
          height="8"
          class="interval"
        />
        <line v-if="row.at != null" :x1="at(row.at)" :x2="at(row.at)" y1="-10" y2="8" class="centre" />
        <text :x="LEFT + WIDTH + 14" y="5" class="letters">{{ row.text }} {{ row.letters }}</text>
      </g>
    </svg>
    <p v-if="test.says" class="caution">{{ test.says }}</p>
    <p v-if="hasDots" class="quiet">
      Each dot is a panel<template v-if="isJoined">; lines join the panels of a board</template>.
    </p>
  </figure>
</template>

<style scoped>
.plot {
  margin: 0;
}
figcaption {
  align-items: start;
  margin-bottom: 8px;
  font-weight: 600;
}
summary {
  font-weight: 400;
  font-size: 13px;
  cursor: pointer;
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
  font-size: 15px;
  text-anchor: end;
}
.letters {
  fill: var(--ink);
  font: 16px var(--mono);
}
.join {
  fill: none;
  stroke: var(--line);
  stroke-width: 1;
}
.dot {
  fill: var(--paper);
  stroke: var(--quiet);
  stroke-width: 1.2;
}
.point {
  cursor: pointer;
}
.hit {
  fill: transparent;
}
.point:hover .hit,
.point.open .hit {
  fill: var(--ink);
  fill-opacity: 0.06;
}
.interval {
  fill: var(--accent);
}
.centre {
  stroke: var(--ink);
  stroke-width: 2.5;
}
</style>
