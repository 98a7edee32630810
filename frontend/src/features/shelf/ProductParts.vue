<script setup lang="ts">
import { computed } from 'vue'
import QuantityInput from '@/kit/QuantityInput.vue'
import { fitContainers, type ProductDraft } from './model'

/** The parts that are mixed, and what can be bought. */
const draft = defineModel<ProductDraft>({ required: true })
const amount = computed(() => (draft.value.sold_by === 'weight' ? 'grams' : 'millilitres'))

function addPart(): void {
  const isFirst = draft.value.parts.length === 1 && draft.value.parts[0]?.name === 'Finish'
  if (isFirst) draft.value.parts = [{ name: 'Base', share: 9 }]
  draft.value.parts.push({ name: isFirst ? 'Hardener' : '', share: 1 })
  fitContainers(draft.value)
}
function removePart(index: number): void {
  draft.value.parts.splice(index, 1)
  for (const container of draft.value.containers) container.amounts.splice(index, 1)
}
function addContainer(): void {
  draft.value.containers.push({ amounts: draft.value.parts.map(() => 0), price: 0 })
}
</script>

<template>
  <section class="sheet part">
    <h2>Parts and containers</h2>
    <div v-for="(part, index) in draft.parts" :key="index" class="row line">
      <div class="field grow">
        <label :for="`part-name-${index}`">Part {{ draft.parts.length > 1 ? index + 1 : '' }}</label>
        <el-input :id="`part-name-${index}`" v-model="part.name" maxlength="60" />
      </div>
      <div v-if="draft.parts.length > 1" class="field share">
        <label :for="`part-share-${index}`">Share</label>
        <QuantityInput
          :id="`part-share-${index}`"
          :model-value="part.share ?? null"
          quantity="number"
          @update:model-value="part.share = $event ?? 0"
        />
      </div>
      <button
        v-if="draft.parts.length > 1"
        type="button"
        class="press"
        :aria-label="`Remove part ${part.name}`"
        @click="removePart(index)"
      >
        Remove
      </button>
    </div>
    <div class="row">
      <button v-if="draft.parts.length < 4" type="button" class="press" @click="addPart">
        {{ draft.parts.length === 1 ? 'Mixed from two parts' : 'Add a part' }}
      </button>
      <template v-if="draft.parts.length > 1">
        <label for="mix-by">Ratio by</label>
        <el-select id="mix-by" v-model="draft.label.mix_by" class="by">
          <el-option value="volume" label="Volume" />
          <el-option value="weight" label="Weight" />
        </el-select>
      </template>
      <label for="sold-by">Sold by</label>
      <el-select id="sold-by" v-model="draft.sold_by" class="by">
        <el-option value="volume" label="Volume" />
        <el-option value="weight" label="Weight" />
      </el-select>
    </div>
    <table v-if="draft.containers.length" class="boxes">
      <thead>
        <tr>
          <th v-for="(part, index) in draft.parts" :key="index" scope="col">{{ part.name }}</th>
          <th scope="col">Price</th>
          <td></td>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(box, row) in draft.containers" :key="row">
          <td v-for="(part, index) in draft.parts" :key="index">
            <QuantityInput
              :id="`box-${row}-${index}`"
              :label="`Container ${row + 1}, ${part.name}`"
              :model-value="box.amounts[index] ?? 0"
              :quantity="amount"
              @update:model-value="box.amounts[index] = $event ?? 0"
            />
          </td>
          <td>
            <QuantityInput
              :id="`box-${row}-price`"
              :label="`Container ${row + 1}, price`"
              :model-value="box.price"
              quantity="price"
              @update:model-value="box.price = $event ?? 0"
            />
          </td>
          <td>
            <button
              type="button"
              class="press"
              :aria-label="`Remove container ${row + 1}`"
              @click="draft.containers.splice(row, 1)"
            >
              Remove
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <button type="button" class="press add" @click="addContainer">Add a container</button>
  </section>
</template>

<style scoped>
.part {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 16px;
}
.line {
  align-items: flex-end;
  flex-wrap: nowrap;
}
.share {
  width: 100px;
}
.by {
  width: 116px;
}
.add {
  align-self: flex-start;
}
.boxes {
  border-collapse: collapse;
}
.boxes th {
  color: var(--quiet);
  font-size: 14px;
  text-align: left;
}
.boxes td {
  padding: 3px 8px 3px 0;
}
</style>
