<script setup lang="ts">
import { computed } from 'vue'
import { cellOf, gridOf, isOut, toggleCells, type CrossingDraft } from './crossing'

/** Every cell of a crossing; rows, columns and single cells are taken out by a press. */
const draft = defineModel<CrossingDraft>({ required: true })
const grid = computed(() => gridOf(draft.value))
const rows = computed(() =>
  grid.value.rows.levels.map((row, at) => ({
    name: grid.value.rows.names[at] ?? '',
    cells: grid.value.columns.levels.map((column) => cellOf(draft.value, row, column)),
  })),
)
/** Where only some build-ups go without a section, it stays on their panels. */
const isPartly = computed(
  () =>
    grid.value.bySection &&
    rows.value.some(
      (row) =>
        row.cells.some((cell) => isOut(draft.value, cell)) &&
        !row.cells.every((cell) => isOut(draft.value, cell)) &&
        row.cells.some(
          (cell, at) =>
            isOut(draft.value, cell) && !columns.value[at]?.cells.every((each) => isOut(draft.value, each)),
        ),
    ),
)
const columns = computed(() =>
  grid.value.columns.levels.map((column, at) => ({
    name: grid.value.columns.names[at] ?? '',
    cells: grid.value.rows.levels.map((row) => cellOf(draft.value, row, column)),
  })),
)
</script>

<template>
  <div class="scroll">
    <table class="grid">
      <thead v-if="columns.some((column) => column.name)">
        <tr>
          <td />
          <th v-for="column in columns" :key="column.name" scope="col">
            <button
              type="button"
              class="head"
              :aria-label="`Take ${column.name} out, or back`"
              @click="toggleCells(draft, column.cells)"
            >
              {{ column.name }}
            </button>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.name">
          <th scope="row">
            <button
              type="button"
              class="head"
              :aria-label="`Take ${row.name} out, or back`"
              @click="toggleCells(draft, row.cells)"
            >
              {{ row.name }}
            </button>
          </th>
          <td v-for="(cell, at) in row.cells" :key="at" :class="{ out: isOut(draft, cell) }">
            <button
              type="button"
              class="head"
              :aria-label="`${cell.join(' · ')}: ${isOut(draft, cell) ? 'taken out' : 'compared'}`"
              @click="toggleCells(draft, [cell])"
            >
              {{ isOut(draft, cell) ? 'out' : '●' }}
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-if="isPartly" class="quiet">
    A section that is out on one build-up stays on its panels without a coat of its own. It is exposed and
    read like the others, so that no panel is known by what it lacks, and it does not count.
  </p>
</template>

<style scoped>
.grid {
  border-collapse: collapse;
}
.grid th,
.grid td {
  min-width: 64px;
  height: 44px;
  padding: 0;
  border: 1px solid var(--hairline);
  text-align: center;
}
.grid th[scope='row'] {
  text-align: left;
}
.grid td {
  color: var(--accent);
}
.grid td.out {
  color: var(--quiet);
}
.head {
  width: 100%;
  min-height: 44px;
  padding: 0 10px;
  border: 0;
  background: none;
  color: inherit;
  font-weight: 600;
  text-align: inherit;
  cursor: pointer;
}
.grid th .head {
  color: var(--ink);
}
.head:disabled {
  cursor: default;
}
.head:focus-visible {
  outline-offset: -3px;
}
</style>
