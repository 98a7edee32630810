<script setup lang="ts">
import { computed } from 'vue'
import GradeMark from '@/kit/GradeMark.vue'
import IntervalBar from '@/kit/IntervalBar.vue'
import SaveButtons from '@/kit/SaveButtons.vue'
import { csvText } from '@/kit/save'
import { axisOf, meanText } from './axis'
import { meetingOf, verdictOf, type Crossing } from './crossing'
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
const meeting = computed(() => meetingOf(props.test, props.crossing))
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

const csv = () =>
  csvText(
    [props.crossing.rowFactor, props.crossing.columnFactor, 'mean', 'low', 'high'],
    props.crossing.cells.flatMap((cells, row) =>
      cells.map((cell, column) => [
        props.crossing.rows[row],
        props.crossing.columns[column],
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
          <tr>
            <th scope="col" class="side">
              <span class="sr">{{ crossing.rowFactor }}</span>
            </th>
            <th v-for="column in crossing.columns" :key="column" scope="col">{{ column }}</th>
            <th scope="col" class="margin quiet">over all</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(name, row) in crossing.rows" :key="name">
            <th scope="row">
              {{ name }} <span class="mono quiet">{{ crossing.rowMargins[row]?.letters }}</span>
            </th>
            <td v-for="(cell, column) in crossing.cells[row]" :key="column">
              <button
                v-if="cell"
                class="cell"
                :class="{
                  odd: isOdd(cell),
                  open: open?.system === cell.system && open.section === cell.section,
                }"
                :aria-label="`${name}, ${crossing.columns[column]}: ${text(cell.mean)}. Show the readings.`"
                @click="$emit('open', cell.system, cell.section)"
              >
                <span class="value"
                  ><GradeMark v-if="isGrade && cell.mean != null" :grade="cell.mean" :size="24" /><b
                    class="mono"
                    >{{ text(cell.mean) }}</b
                  ></span
                >
                <IntervalBar
                  v-if="cell.mean != null"
                  :from="axis.from"
                  :to="axis.to"
                  :mean="cell.mean"
                  :low="cell.low"
                  :high="cell.high"
                />
              </button>
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
        <tfoot>
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
        class="cell aside"
        :class="{ open: open?.system === row.system }"
        :aria-label="`${row.system} ${text(row.mean)}. Show the readings.`"
        @click="$emit('open', row.system, '')"
      >
        {{ row.system }} <b class="mono">{{ text(row.mean) }}</b>
      </button>
    </p>
    <p v-if="meeting" class="says">
      <template v-if="meeting.p < test.alpha">
        <b>It depends on both:</b> what the {{ crossing.columnFactor }} does is not the same on every
        {{ crossing.rowFactor }}<template v-if="test.odd">; the framed cell breaks the rule most</template>.
      </template>
      <template v-else
        >What the {{ crossing.columnFactor }} does is not shown to depend on the
        {{ crossing.rowFactor }}.</template
      >
      <small class="quiet">
        ({{ meeting.effect.replace(':', ' × ') }}: F {{ meeting.f.toFixed(2) }} on {{ meeting.df[0] }} and
        {{ meeting.df[1] }}, p {{ meeting.p < 0.001 ? '< 0.001' : meeting.p.toFixed(3) }})</small
      >
    </p>
    <p v-if="test.sections?.sed.systems != null && test.sections.sed.sections != null" class="quiet">
      Sections are compared within panels (differences ± {{ (2 * test.sections.sed.sections).toFixed(2) }}),
      build-ups between them (± {{ (2 * test.sections.sed.systems).toFixed(2) }}).
    </p>
  </section>
</template>

<style scoped>
.part {
  padding: 16px;
}
.head {
  align-items: start;
}
.grow {
  flex: 1;
}
.scroll {
  overflow-x: auto;
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
thead th {
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
.letters {
  margin-left: 6px;
}
.beside-them {
  margin: 8px 0 0;
}
.cell.aside {
  flex-direction: row;
  align-items: center;
  width: auto;
}
.none {
  padding: 12px 10px;
}
.beside {
  display: block;
}
.says {
  margin: 12px 0 0;
}
</style>
