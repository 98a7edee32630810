<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { quantityOf } from '@/kit/units'

/** What the whole trial takes of each product, and the cheapest containers that cover it. */
const props = defineProps<{ shopping: Schemas['Shopping'] }>()

type Need = Schemas['ProductNeed']
const total = computed(() =>
  [...props.shopping.products, ...props.shopping.thinners].reduce((sum, row) => sum + (row.cost ?? 0), 0),
)

function quantity(row: Need): string {
  return row.unit === 'weight' ? 'grams' : 'millilitres'
}
/** Mixes are larger than what goes on the wood where less cannot be portioned out. */
function isMoreMixed(row: Need): boolean {
  return row.mixed_ml > 1.1 * row.spread_ml
}
/** "Base 20 mL, Hardener 2.2 mL"; the amount alone where there is one part. */
function amounts(row: Need, values: readonly number[]): string {
  const held = row.parts
    .map((part, index) => ({ part, value: values[index] ?? 0 }))
    .filter((one) => one.value > 0)
  return held
    .map((one) => (row.parts.length > 1 ? `${one.part} ` : '') + quantityOf(quantity(row), one.value))
    .join(' + ')
}
</script>

<template>
  <section v-if="shopping.products.length || shopping.thinners.length" class="sheet buy">
    <h2>What to buy for {{ shopping.n_panels }} panels of each</h2>
    <p class="quiet">
      {{
        shopping.is_planned
          ? 'For the mixes of the planned bench days.'
          : 'For mixes shared by build-ups that take the same, as reckoned before the bench days are planned.'
      }}
      Waste is counted in.
    </p>
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">Product</th>
          <th scope="col">Mixed and decanted</th>
          <th scope="col">Cheapest that covers it</th>
          <th scope="col">Left over</th>
          <th scope="col" class="right">Costs</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in shopping.products" :key="row.product">
          <th scope="row">{{ row.product }}</th>
          <td>
            <span class="mono">{{ amounts(row, row.needs) }}</span>
            <span v-if="isMoreMixed(row)" class="quiet line">
              {{ quantityOf('millilitres', row.spread_ml) }} go on the wood: a smaller mix cannot be portioned
              out
            </span>
          </td>
          <td v-if="row.cost === null" class="caution">{{ row.says }}</td>
          <td v-else class="mono">
            <span v-for="(line, index) in row.lines" :key="index" class="line">
              {{ line.count }} × {{ amounts(row, line.amounts) }}
            </span>
          </td>
          <td class="mono quiet">{{ amounts(row, row.left_over) }}</td>
          <td class="figure">{{ row.cost === null ? '–' : quantityOf('price', row.cost) }}</td>
        </tr>
        <tr v-for="row in shopping.thinners" :key="row.what">
          <th scope="row">Thinner: {{ row.what }}</th>
          <td class="mono">{{ quantityOf('millilitres', row.ml) }}</td>
          <td :class="row.cost === null ? 'caution' : 'quiet'" colspan="2">
            For {{ row.products.join(', ') }}.
            <template v-if="row.cost === null">
              It has no price, so it is not in the sum: set one under Bench.
            </template>
          </td>
          <td class="figure">{{ row.cost === null ? '–' : quantityOf('price', row.cost) }}</td>
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <th scope="row" colspan="4">All</th>
          <td class="figure">{{ quantityOf('price', total) }}</td>
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
.figure {
  white-space: nowrap;
}
.right {
  text-align: right !important;
}
.plain td:last-child,
.plain th:last-child {
  padding-right: 0;
}
</style>
