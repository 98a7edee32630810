<script setup lang="ts">
import { figureOf, quantityOf, said, signOf } from '@/kit/units'
import type { Answer } from './model'

/** An answer: its main figure large, the others beneath, tables, and what to mind. */
defineProps<{ answer: Answer; isStale: boolean }>()

function cellOf(quantity: string, cell: unknown): string {
  if (cell == null) return '–'
  return quantity === 'words' || typeof cell !== 'number' ? String(cell) : figureOf(quantity, cell)
}
function headOf(label: string, quantity: string): string {
  const sign = quantity === 'words' ? '' : signOf(quantity)
  return sign ? `${label}, ${sign}` : label
}
</script>

<template>
  <section class="answer" :class="{ stale: isStale }" aria-live="polite" aria-label="The answer">
    <dl>
      <div v-for="(figure, index) in answer.figures" :key="figure.label" :class="{ main: index === 0 }">
        <dt>{{ figure.label }}</dt>
        <dd>
          <span class="mono">{{
            figure.value === null ? 'cannot be told' : quantityOf(figure.quantity, figure.value)
          }}</span>
          <span v-if="figure.says" class="quiet"> {{ figure.says }}</span>
        </dd>
      </div>
    </dl>
    <div v-for="table in answer.tables" :key="table.title">
      <h3>{{ table.title }}</h3>
      <table class="plain">
        <thead>
          <tr>
            <th
              v-for="column in table.columns"
              :key="column.label"
              scope="col"
              :class="{ right: column.quantity !== 'words' }"
            >
              {{ headOf(column.label, column.quantity) }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, index) in table.rows" :key="index">
            <td
              v-for="(column, place) in table.columns"
              :key="place"
              :class="{ figure: column.quantity !== 'words' }"
            >
              {{ cellOf(column.quantity, row[place]) }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-for="(note, index) in answer.notes" :key="index" class="note">{{ said(note) }}</p>
  </section>
</template>

<style scoped>
.answer {
  display: flex;
  flex-direction: column;
  gap: 16px;
  padding: 16px;
  border: 1px solid var(--line);
  background: var(--paper);
}
.stale {
  opacity: 0.55;
}
dl {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px 20px;
  margin: 0;
}
.main {
  grid-column: 1 / -1;
}
.main dd {
  font-size: 30px;
  line-height: 1.2;
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0;
  font-size: 17px;
}
h3 {
  margin: 0 0 4px;
  font-size: 15px;
}
.plain th.right {
  text-align: right;
}
.plain th:last-child,
.plain td:last-child {
  padding-right: 0;
}
.note {
  padding-left: 10px;
  border-left: 3px solid var(--due);
}
</style>
