<script setup lang="ts">
import type { Schemas } from '@/api/client'
import QuantityInput from '@/kit/QuantityInput.vue'
import { figureOf } from '@/kit/units'
import { FIGURES, type FigureField, type ProductDraft } from './model'

/** What the label says, beside what was found; where the label is silent the family's usual figure stands in grey. */
const props = defineProps<{ family?: Schemas['Family'] }>()
const draft = defineModel<ProductDraft>({ required: true })

function usualOf(field: FigureField): string | undefined {
  const usual = props.family?.usual
  if (!usual) return undefined
  const figures: Partial<Record<FigureField['label'], number | null | undefined>> = {
    spread_first_m2_per_l: usual.spread_first_m2_per_l,
    spread_later_m2_per_l: usual.spread_later_m2_per_l,
    wipe_off_from_min: usual.wipe_off_min?.[0],
    wipe_off_to_min: usual.wipe_off_min?.[1],
    recoat_from_h: usual.recoat_h[0],
    recoat_to_h: usual.recoat_h[1],
    cure_d: usual.cure_d,
  }
  const value = figures[field.label]
  return value == null ? undefined : `usual ${figureOf(field.quantity, value)}`
}
</script>

<template>
  <section class="sheet part">
    <table>
      <thead>
        <tr>
          <td></td>
          <th scope="col">Label says</th>
          <th scope="col">We found</th>
        </tr>
      </thead>
      <tbody v-for="group in FIGURES" :key="group.title">
        <tr>
          <th class="group" scope="colgroup" colspan="3">{{ group.title }}</th>
        </tr>
        <tr v-for="field in group.fields" :key="field.label">
          <th scope="row">{{ field.words }}</th>
          <td>
            <QuantityInput
              :id="`label-${field.label}`"
              :label="`${field.words}, label says`"
              :model-value="draft.label[field.label] ?? null"
              :quantity="field.quantity"
              :placeholder="usualOf(field)"
              @update:model-value="draft.label[field.label] = $event"
            />
          </td>
          <td>
            <QuantityInput
              v-if="field.found"
              :id="`found-${field.found}`"
              :label="`${field.words}, we found`"
              :model-value="draft.found[field.found] ?? null"
              :quantity="field.quantity"
              @update:model-value="draft.found[field.found] = $event"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <div class="words">
      <div class="field">
        <label for="label-abrade">Between coats, label says</label>
        <el-input id="label-abrade" v-model="draft.label.abrade_between" maxlength="200" />
      </div>
      <div class="field">
        <label for="found-drying">Drying drop, we found</label>
        <el-input id="found-drying" v-model="draft.found.drying_drop" />
      </div>
      <div class="field">
        <label for="label-hazards">Hazards, label says</label>
        <el-input id="label-hazards" v-model="draft.label.hazards" />
      </div>
      <div class="field">
        <label for="found-smell">Smell, we found</label>
        <el-input id="found-smell" v-model="draft.found.smell" />
      </div>
      <label class="choice"
        ><input v-model="draft.label.dissolves_wax" type="checkbox" /> Label says that it dissolves wax</label
      >
      <div class="field">
        <label for="found-viscosity">Viscosity, we found</label>
        <el-input id="found-viscosity" v-model="draft.found.viscosity" />
      </div>
    </div>
  </section>
</template>

<style scoped>
.part {
  padding: 8px 16px 16px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  padding: 3px 12px 3px 0;
  font-weight: 400;
  text-align: left;
}
thead th {
  font-size: 17px;
  font-weight: 700;
}
.group {
  padding-top: 12px;
  color: var(--quiet);
  font-size: 14px;
  font-weight: 600;
}
td {
  width: 34%;
  padding: 3px 8px 3px 0;
}
.words {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
  margin-top: 12px;
  align-items: end;
}
</style>
