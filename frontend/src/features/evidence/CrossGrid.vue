<script setup lang="ts">
import { computed } from 'vue'
import IntervalBar from '@/kit/IntervalBar.vue'
import SaveButtons from '@/kit/SaveButtons.vue'
import { csvText } from '@/kit/save'
import { axisOf, meanText } from './axis'
import { meetingsOf, verdictOf, type Crossing } from './crossing'
import CrossCell from './CrossCell.vue'
import CrossMeetings from './CrossMeetings.vue'
import LevelsAcross from './LevelsAcross.vue'
import type { LevelEvidence, TestEvidence } from './model'

/** A crossing as a grid with margins: the cells, each with its interval, and beside and below them the levels over all others. */
const props = defineProps<{
  response: string
  test: TestEvidence
  crossing: Crossing
  title: string
  open: { system: string; section: string } | null
}>()
defineEmits<{ open: [system: string, section: string] }>()

const axis = computed(() => axisOf(props.response, [props.test]))
const isGrade = computed(() => props.response === 'grade' && props.test.told_as === 'difference')
const text = (mean: number | null) =>
  mean == null
    ? '–'
    : props.test.told_as === 'rank'
      ? `${Math.round(100 * mean)} %`
      : meanText(props.response, mean)
const meetings = computed(() => meetingsOf(props.test))
/** Whether a cell breaks the rule most, where both do meet. */
const isOdd = (cell: { system: string; section: string }) =>
  props.test.odd?.system === cell.system && props.test.odd.section === cell.section
/** What is no part of the crossing, such as bare wood. */
const outside = computed(() => {
  const inside = new Set(props.crossing.cells.flat().map((cell) => cell?.system))
  return props.test.systems.filter((row) => !inside.has(row.system))
})
const first = computed(() => props.crossing.columnMargins[0]?.level ?? '')
function beside(level: LevelEvidence): string {
  if (level.level === first.value) return ''
  const verdict = verdictOf(props.crossing.columnPairs, first.value, level.level)
  return (
    verdict &&
    `${verdict} ${verdict === 'told apart' ? 'from' : verdict === 'alike' ? 'with' : 'to'} ${first.value}`
  )
}

/** Columns by all their levels. */
const columnNames = computed(() => {
  const over = props.crossing.over.flatMap((each) => Array<string>(each.span).fill(each.level))
  return props.crossing.columns.map((column, at) => (over[at] ? `${over[at]}, ${column}` : column))
})

const csv = () =>
  csvText(
    [props.crossing.rowFactor, props.crossing.columnFactor, 'mean', 'low', 'high'],
    props.crossing.cells.flatMap((cells, row) =>
      cells.map((cell, column) => [
        props.crossing.rows[row],
        columnNames.value[column],
        cell?.mean,
        cell?.low,
        cell?.high,
      ]),
    ),
  )
</script>

<template>
  <section class="sheet part">
    <header class="row head">
      <h2 class="grow">{{ title }}: {{ crossing.rowFactor }} × {{ crossing.columnFactor }}</h2>
      <SaveButtons :name="title" :csv="csv" />
    </header>
    <div class="scroll" tabindex="0" role="region" :aria-label="`Crossing of ${title}`">
      <table class="grid">
        <thead>
          <tr v-if="crossing.over.length">
            <td class="side"></td>
            <th
              v-for="each in crossing.over"
              :key="each.level"
              scope="colgroup"
              class="over"
              :colspan="each.span"
            >
              {{ each.level }}
            </th>
            <td class="margin"></td>
          </tr>
          <tr>
            <th scope="col" class="side">
              <span class="sr">{{ crossing.rowFactor }}</span>
            </th>
            <th v-for="(column, at) in crossing.columns" :key="at" scope="col">{{ column }}</th>
            <th scope="col" class="margin quiet">over all</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(name, row) in crossing.rows" :key="name">
            <th scope="row">
              {{ name }} <span class="mono quiet">{{ crossing.rowMargins[row]?.letters }}</span>
            </th>
            <td v-for="(cell, column) in crossing.cells[row]" :key="column">
              <CrossCell
                v-if="cell"
                :mean="cell.mean"
                :low="cell.low"
                :high="cell.high"
                :text="text(cell.mean)"
                :name="`${name}, ${columnNames[column]}`"
                :axis="axis"
                :is-grade="isGrade"
                :is-odd="isOdd(cell)"
                :is-open="open?.system === cell.system && open.section === cell.section"
                @open="$emit('open', cell.system, cell.section)"
              />
              <span v-else class="quiet none">–</span>
            </td>
            <td class="margin">
              <span class="mono">{{ text(crossing.rowMargins[row]?.mean ?? null) }}</span>
              <IntervalBar
                v-if="crossing.rowMargins[row]?.mean != null"
                :from="axis.from"
                :to="axis.to"
                :mean="crossing.rowMargins[row]?.mean ?? 0"
                :low="crossing.rowMargins[row]?.ci?.[0]"
                :high="crossing.rowMargins[row]?.ci?.[1]"
              />
            </td>
          </tr>
        </tbody>
        <tfoot v-if="crossing.columnMargins.length">
          <tr>
            <th scope="row" class="quiet">over all</th>
            <td v-for="level in crossing.columnMargins" :key="level.level" class="foot">
              <span class="mono">{{ text(level.mean) }}</span>
              <span class="mono quiet letters">{{ level.letters }}</span>
              <small v-if="beside(level)" class="quiet beside">{{ beside(level) }}</small>
              <IntervalBar
                v-if="level.mean != null"
                :from="axis.from"
                :to="axis.to"
                :mean="level.mean"
                :low="level.ci?.[0]"
                :high="level.ci?.[1]"
              />
            </td>
            <td class="margin" />
          </tr>
        </tfoot>
      </table>
    </div>
    <p v-if="outside.length" class="row beside-them">
      <span class="quiet">Beside them:</span>
      <button
        v-for="row in outside"
        :key="row.system"
        class="aside"
        :class="{ open: open?.system === row.system }"
        :aria-label="`${row.system} ${text(row.mean)}. Show the readings.`"
        @click="$emit('open', row.system, '')"
      >
        {{ row.system }} <b class="mono">{{ text(row.mean) }}</b>
      </button>
    </p>
    <LevelsAcross
      v-for="each in crossing.across"
      :key="each.factor"
      :factor="each.factor"
      :levels="each.levels"
      :text="text"
      :axis="axis"
    />
    <CrossMeetings :test="test" :meetings="meetings" />
    <p v-if="test.sections?.sed.systems != null && test.sections.sed.sections != null" class="quiet">
      Sections are compared within panels (differences ± {{ (2 * test.sections.sed.sections).toFixed(2) }}),
      build-ups between them (± {{ (2 * test.sections.sed.systems).toFixed(2) }}).
    </p>
  </section>
</template>

<style scoped>
.head {
  align-items: start;
}
.grid {
  min-width: 560px;
}
.grid {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
}
.grid tbody tr {
  border-top: 1px solid var(--hairline);
}
.grid tfoot tr {
  border-top: 2px solid var(--ink);
}
.grid th {
  padding: 8px 12px 8px 0;
  text-align: left;
}
.side {
  width: 24%;
}
.grid thead th + th,
.grid td + th {
  padding-left: 10px;
}
.grid td {
  padding: 0;
  vertical-align: top;
}
.margin {
  padding: 8px 10px;
  border-left: 1px solid var(--hairline);
}
td.margin,
td.foot {
  padding: 8px 10px;
}
.over {
  border-left: 1px solid var(--hairline);
}
.letters {
  margin-left: 6px;
}
.beside-them {
  margin: 8px 0 0;
}
.aside {
  min-height: 44px;
  padding: 7px 10px 8px;
  border: 0;
  background: none;
  color: var(--ink);
  cursor: pointer;
}
.aside:hover,
.aside.open {
  box-shadow: inset 0 0 0 2px var(--accent);
}
.none {
  padding: 12px 10px;
}
.beside {
  display: block;
}
</style>
