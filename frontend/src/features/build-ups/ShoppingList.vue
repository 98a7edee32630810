<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { figureOf, quantityOf } from '@/kit/units'

/** What the whole trial takes of each product, and the cheapest containers that cover it. */
const props = defineProps<{
  shopping: readonly Schemas['Shopping'][]
  thinners?: readonly Schemas['Thinner'][]
  nPanels: number
}>()

const total = computed(() => props.shopping.reduce((sum, row) => sum + (row.cost ?? 0), 0))

function quantity(row: Schemas['Shopping']): string {
  return row.unit === 'weight' ? 'grams' : 'millilitres'
}
/** "Base 20 mL, Hardener 2.2 mL"; the amount alone where there is one part. */
function amounts(row: Schemas['Shopping'], values: readonly number[]): string {
  const held = row.parts
    .map((part, index) => ({ part, value: values[index] ?? 0 }))
    .filter((one) => one.value > 0)
  return held
    .map((one) => (row.parts.length > 1 ? `${one.part} ` : '') + quantityOf(quantity(row), one.value))
    .join(' + ')
}
</script>

<template>
  <section v-if="shopping.length" class="sheet buy">
    <h2>What to buy for {{ nPanels }} panels of each</h2>
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">Product</th>
          <th scope="col">Needed, waste counted in</th>
          <th scope="col">Cheapest that covers it</th>
          <th scope="col">Left over</th>
          <th scope="col" class="right">Costs</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in shopping" :key="row.product">
          <th scope="row">{{ row.product }}</th>
          <td class="mono">{{ amounts(row, row.needs) }}</td>
          <td v-if="row.cost === null" class="caution">{{ row.says }}</td>
          <td v-else class="mono">
            <span v-for="(line, index) in row.lines" :key="index" class="line">
              {{ line.count }} × {{ amounts(row, line.amounts) }}
            </span>
          </td>
          <td class="mono quiet">{{ amounts(row, row.left_over) }}</td>
          <td class="figure">{{ row.cost === null ? '–' : figureOf('price', row.cost) }}</td>
        </tr>
        <tr v-for="row in thinners" :key="row.what">
          <th scope="row">Thinner: {{ row.what }}</th>
          <td class="mono">{{ quantityOf('millilitres', row.ml) }}</td>
          <td class="caution" colspan="2">
            For {{ row.products.join(', ') }}. It has no price on the shelf, so it is not in the sum.
          </td>
          <td class="figure">–</td>
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <th scope="row" colspan="4">All</th>
          <td class="figure">{{ figureOf('price', total) }}</td>
        </tr>
      </tfoot>
    </table>
  </section>
</template>

<style scoped>
.buy {
  padding: 16px;
  overflow-x: auto;
}
tbody th {
  min-width: 190px;
  color: var(--ink);
  font-size: 15px;
}
.line {
  display: block;
}
.right {
  text-align: right !important;
}
.plain td:last-child,
.plain th:last-child {
  padding-right: 0;
}
</style>
