<script setup lang="ts">
import QuantityInput from '@/kit/QuantityInput.vue'
import { blankRow, isAsked, type Calculator, type CalculatorInput, type Row, type Values } from './model'

/** What a calculator asks: numbers with their units, choices, and rows that can be added. */
defineProps<{ calculator: Calculator }>()
const values = defineModel<Values>({ required: true })

function rowsOf(input: CalculatorInput): Row[] {
  return values.value[input.name] as Row[]
}
function numberOf(value: unknown): number | null {
  return typeof value === 'number' ? value : null
}
</script>

<template>
  <div class="inputs">
    <template v-for="input in calculator.inputs" :key="input.name">
      <fieldset v-if="input.kind === 'table'" class="wide">
        <legend>{{ input.label }}</legend>
        <div class="scroller">
          <table>
            <thead>
              <tr>
                <th v-for="column in input.columns" :key="column.name" scope="col">{{ column.label }}</th>
                <td></td>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(row, index) in rowsOf(input)" :key="index">
                <td v-for="column in input.columns" :key="column.name">
                  <QuantityInput
                    v-if="column.kind === 'number'"
                    :id="`${input.name}-${index}-${column.name}`"
                    :label="`${column.label}, row ${index + 1}`"
                    :model-value="numberOf(row[column.name])"
                    :quantity="column.quantity ?? 'number'"
                    @update:model-value="row[column.name] = $event"
                  />
                  <input
                    v-else
                    class="text"
                    :value="row[column.name]"
                    :aria-label="`${column.label}, row ${index + 1}`"
                    @input="row[column.name] = ($event.target as HTMLInputElement).value"
                  />
                </td>
                <td>
                  <button
                    class="press"
                    :disabled="rowsOf(input).length <= input.fewest"
                    :aria-label="`Remove row ${index + 1}`"
                    @click="rowsOf(input).splice(index, 1)"
                  >
                    Remove
                  </button>
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <button class="press" @click="rowsOf(input).push(blankRow(input))">Add a row</button>
      </fieldset>
      <div v-else-if="isAsked(input, values)" class="field">
        <label :for="`in-${input.name}`">{{ input.label }}</label>
        <el-select v-if="input.kind === 'choice'" :id="`in-${input.name}`" v-model="values[input.name]">
          <el-option
            v-for="option in input.options"
            :key="option.id"
            :value="option.id"
            :label="option.name"
          />
        </el-select>
        <QuantityInput
          v-else
          :id="`in-${input.name}`"
          :model-value="numberOf(values[input.name])"
          :quantity="input.quantity ?? 'number'"
          @update:model-value="values[input.name] = $event"
        />
        <span v-if="input.hint" class="hint">{{ input.hint }}</span>
      </div>
    </template>
  </div>
</template>

<style scoped>
.inputs {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 14px;
  align-items: start;
}
.wide {
  grid-column: 1 / -1;
}
.scroller {
  overflow-x: auto;
}
table {
  border-collapse: collapse;
}
th {
  padding-right: 8px;
  color: var(--quiet);
  font-size: 14px;
  text-align: left;
}
td {
  min-width: 132px;
  padding: 3px 8px 3px 0;
}
.text {
  width: 130px;
  min-height: 44px;
  padding: 0 10px;
  border: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink);
  font: inherit;
}
</style>
