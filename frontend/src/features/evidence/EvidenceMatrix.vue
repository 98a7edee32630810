<script setup lang="ts">
import { computed } from 'vue'
import { tieBars } from '@/kit/ties'
import { axisOf } from './axis'
import EvidenceMark from './EvidenceMark.vue'
import { told } from './told'
import { keyOf, titleOf, type EvidenceRow, type TestEvidence } from './model'

/** Build-ups by tests: the mark, the mean, its interval on the line of its scale, and tie bars for the chosen test. */
const props = defineProps<{
  response: string
  rows: readonly EvidenceRow[]
  tests: readonly TestEvidence[]
  names: ReadonlyMap<string, string>
  chosen: string
  behind: { test: string; system: string } | null
}>()
defineEmits<{ choose: [test: string]; open: [test: string, system: string] }>()

const keys = computed(() => props.tests.map(keyOf))
const axes = computed(() => props.tests.map((test) => axisOf(props.response, [test])))
const letters = computed(() => {
  const at = props.tests.findIndex((test) => keyOf(test) === props.chosen)
  return props.rows.map((row) => row.cells[at]?.letters ?? '')
})
const ties = computed(() => tieBars(letters.value))

function nameOf(row: EvidenceRow, index: number): string {
  const cell = row.cells[index]
  const test = props.tests[index]
  if (!cell || !test) return ''
  const interval = cell.ci
    ? `, interval ${cell.ci[0]?.toFixed(1)} to ${cell.ci[1]?.toFixed(1)}`
    : ', no interval'
  const said = told(props.response, test, cell).text
  const isMean = test.told_as === 'difference' && !test.ladder
  return `${row.system}, ${titleOf(props.names, test)}: ${isMean ? 'mean ' : ''}${said}${isMean ? interval : ''}. Show the readings.`
}
</script>

<template>
  <div class="scroll">
    <table class="matrix">
      <thead>
        <tr>
          <th scope="col"><span class="sr">Build-up</span></th>
          <th v-for="test in tests" :key="keyOf(test)" scope="col">
            <button
              class="head"
              :class="{ chosen: keyOf(test) === chosen }"
              :aria-pressed="keyOf(test) === chosen"
              @click="$emit('choose', keyOf(test))"
            >
              {{ titleOf(names, test) }}
            </button>
          </th>
          <th scope="col" class="tie-head">{{ ties.length ? 'Ties' : '' }}</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(row, rowIndex) in rows" :key="row.system">
          <tr v-if="row.heading">
            <th scope="rowgroup" class="level" :colspan="tests.length + 2">{{ row.heading }}</th>
          </tr>
          <tr>
            <th scope="row" class="system" :class="{ quiet: row.isControl }">{{ row.system }}</th>
            <td v-for="(cell, index) in row.cells" :key="index" :class="{ chosen: keys[index] === chosen }">
              <button
                v-if="cell"
                class="cell"
                :class="{ open: behind?.system === row.system && behind.test === keys[index] }"
                :aria-label="nameOf(row, index)"
                @click="$emit('open', keys[index] ?? '', row.system)"
              >
                <EvidenceMark
                  v-if="tests[index] && axes[index]"
                  :response="response"
                  :test="tests[index]!"
                  :row="cell"
                  :axis="axes[index]!"
                />
              </button>
              <span v-else class="quiet none">–</span>
            </td>
            <td
              class="ties"
              :aria-label="letters[rowIndex] ? `shares letters ${letters[rowIndex]}` : undefined"
            >
              <span
                v-for="tie in ties"
                :key="tie.letter"
                class="tie"
                :class="{
                  on: tie.rows.includes(rowIndex),
                  past: !tie.rows.includes(rowIndex) && rowIndex > tie.first && rowIndex < tie.last,
                  first: rowIndex === tie.first,
                  last: rowIndex === tie.last,
                }"
              />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.matrix {
  width: 100%;
  border-collapse: collapse;
}
.matrix tr {
  border-bottom: 1px solid var(--hairline);
}
.head {
  width: 100%;
  min-height: 44px;
  padding: 0 4px;
  border: 0;
  border-bottom: 3px solid transparent;
  background: none;
  color: var(--ink);
  font-size: 13px;
  font-weight: 400;
  cursor: pointer;
}
.head.chosen {
  border-bottom-color: var(--accent);
  font-weight: 700;
}
.tie-head {
  font-size: 13px;
  font-weight: 400;
  text-align: left;
  color: var(--quiet);
}
.level {
  padding: 14px 0 4px;
  text-align: left;
}
.system {
  padding-right: 12px;
  min-width: 150px;
  text-align: left;
}
td {
  padding: 0;
}
td.chosen {
  background: var(--paper);
}
.none {
  padding-inline: 10px;
}
.cell {
  display: flex;
  flex-direction: column;
  gap: 4px;
  width: 100%;
  min-width: 78px;
  padding: 7px 10px 8px;
  border: 0;
  background: none;
  color: var(--ink);
  cursor: pointer;
}
.cell:hover,
.cell.open {
  box-shadow: inset 0 0 0 2px var(--accent);
}
.ties {
  height: 1px;
  padding-left: 10px;
  white-space: nowrap;
}
.tie {
  display: inline-block;
  width: 4px;
  height: 100%;
  min-height: 56px;
  margin-right: 8px;
  vertical-align: top;
}
.tie.on {
  background: var(--ink);
}
.tie.past {
  background: linear-gradient(90deg, transparent 1.5px, var(--line) 1.5px 2.5px, transparent 2.5px);
}
.tie.on.first {
  clip-path: inset(8px 0 0 0);
}
.tie.on.last {
  clip-path: inset(0 0 8px 0);
}
@media (max-width: 900px) {
  .system {
    min-width: 96px;
    padding-right: 6px;
    font-size: 14px;
  }
  .head {
    font-size: 12px;
  }
  .cell {
    min-width: 0;
    padding: 7px 4px 8px;
  }
  .tie {
    margin-right: 4px;
  }
}
</style>
