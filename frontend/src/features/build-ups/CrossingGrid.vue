<script setup lang="ts">
import { computed } from 'vue'
import { cellOf, gridOf, isOut, toggleCells, type CrossingDraft } from './crossing'

/** Every cell of a crossing; rows, columns and, on panels, cells are taken out by a press. */
const draft = defineModel<CrossingDraft>({ required: true })
const grid = computed(() => gridOf(draft.value))
const rows = computed(() =>
  grid.value.rows.levels.map((row, at) => ({
    name: grid.value.rows.names[at] ?? '',
    cells: grid.value.columns.levels.map((column) => cellOf(draft.value, row, column)),
  })),
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
              v-if="!grid.bySection"
              type="button"
              class="head"
              :aria-label="`${cell.join(' · ')}: ${isOut(draft, cell) ? 'taken out' : 'compared'}`"
              @click="toggleCells(draft, [cell])"
            >
              {{ isOut(draft, cell) ? 'out' : '●' }}
            </button>
            <span v-else>{{ isOut(draft, cell) ? 'out' : '●' }}</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
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
.head:focus-visible {
  outline-offset: -3px;
}
</style>
