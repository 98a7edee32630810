<script setup lang="ts">
import { ref } from 'vue'
import type { Schemas } from '@/api/client'
import ProductPicker from '@/kit/ProductPicker.vue'
import QuantityInput from '@/kit/QuantityInput.vue'
import { quantityOf } from '@/kit/units'
import FindingsList from './FindingsList.vue'
import { APPLICATOR_WORDS, type Finding, type LayerDraft } from './model'

/** One layer of the stack: product, coats, how it goes on, what comes before it; what clashes stands beneath. */
defineProps<{
  index: number
  count: number
  families: readonly Schemas['Family'][]
  findings: readonly Finding[]
  needMl?: number
  /** What the ids of its fields begin with, where other layers are on the screen. */
  scope?: string
}>()
const emit = defineEmits<{ move: [by: -1 | 1]; remove: []; point: [] }>()
const layer = defineModel<LayerDraft>({ required: true })

const isThinningFaulty = ref(false)
/** Numbers as they are typed, with commas or spaces between; what is none of them is said and not taken. */
function takeThinning(typed: string): void {
  const numbers = typed
    .split(/[;,\s]+/)
    .filter(Boolean)
    .map(Number)
  isThinningFaulty.value = numbers.some((number) => !Number.isFinite(number))
  if (!isThinningFaulty.value) layer.value.thinned_by_coat = numbers
}
function choose(chosen: { product: number | null; family: string }): void {
  layer.value.product = chosen.product
  layer.value.family = chosen.family
}
</script>

<template>
  <fieldset class="layer" @focusin="emit('point')" @pointerenter="emit('point')">
    <legend class="sr">Layer {{ index + 1 }}</legend>
    <div class="line">
      <span class="number mono" aria-hidden="true">{{ index + 1 }}</span>
      <ProductPicker
        :id="`${scope ?? ''}layer-${index}-product`"
        class="product"
        :label="`Layer ${index + 1}, product`"
        :product="layer.product"
        :family="layer.family"
        :families="families"
        @choose="choose"
      />
      <label class="coats">
        <span>Coats</span>
        <input
          :id="`${scope ?? ''}layer-${index}-coats`"
          v-model.number="layer.coats"
          type="number"
          min="1"
          max="20"
          required
        />
      </label>
      <el-select
        v-model="layer.applicator"
        class="applicator"
        :aria-label="`Layer ${index + 1}, put on with`"
      >
        <el-option v-for="(words, id) in APPLICATOR_WORDS" :key="id" :value="id" :label="words" />
      </el-select>
      <span class="need mono">{{ needMl === undefined ? '' : quantityOf('millilitres', needMl) }}</span>
      <span class="acts">
        <button
          type="button"
          class="press"
          :disabled="index === count - 1"
          :aria-label="`Move layer ${index + 1} up`"
          @click="emit('move', 1)"
        >
          ↑
        </button>
        <button
          type="button"
          class="press"
          :disabled="index === 0"
          :aria-label="`Move layer ${index + 1} down`"
          @click="emit('move', -1)"
        >
          ↓
        </button>
        <button type="button" class="press" :aria-label="`Remove layer ${index + 1}`" @click="emit('remove')">
          ✕
        </button>
      </span>
    </div>
    <div v-if="index > 0" class="line over">
      <label class="choice"
        ><input
          type="checkbox"
          :checked="layer.wait_before_h === null"
          @change="layer.wait_before_h = layer.wait_before_h === null ? 24 : null"
        />
        After full cure</label
      >
      <label v-if="layer.wait_before_h !== null" class="wait">
        or after
        <QuantityInput
          :id="`${scope ?? ''}layer-${index}-wait`"
          :model-value="layer.wait_before_h"
          quantity="hours"
          @update:model-value="layer.wait_before_h = $event ?? layer.wait_before_h"
        />
      </label>
      <label class="choice"><input v-model="layer.sanded_before" type="checkbox" /> Sanded back before</label>
      <label class="choice"><input v-model="layer.to_wood" type="checkbox" /> Down to bare wood</label>
    </div>
    <details class="more">
      <summary>More: between coats, thinning, hardener, when to stop</summary>
      <div class="line">
        <label class="wait">
          Own wait between coats
          <QuantityInput
            :id="`${scope ?? ''}layer-${index}-between`"
            :model-value="layer.wait_between_h"
            quantity="hours"
            placeholder="the label’s"
            @update:model-value="layer.wait_between_h = $event"
          />
        </label>
        <label class="grow"
          >Notes, a line a coat
          <el-input
            :id="`${scope ?? ''}layer-${index}-notes`"
            type="textarea"
            :autosize="{ minRows: 1, maxRows: 6 }"
            :model-value="layer.notes.join('\n')"
            placeholder="wheel at 2000 turns; brush squeezed out"
            @update:model-value="layer.notes = $event ? $event.split('\n') : []"
          />
        </label>
        <label class="grow"
          >Between coats
          <el-input
            :id="`${scope ?? ''}layer-${index}-abrade`"
            v-model="layer.abrade_between"
            placeholder="Nothing"
          />
        </label>
        <label class="wait">
          Thinned by
          <QuantityInput
            :id="`${scope ?? ''}layer-${index}-thinned`"
            :model-value="layer.thinned_pct"
            quantity="percent"
            @update:model-value="layer.thinned_pct = $event ?? 0"
          />
        </label>
        <label class="grow"
          >Else coat by coat, %
          <el-input
            :id="`${scope ?? ''}layer-${index}-thinned-by`"
            :model-value="layer.thinned_by_coat.join(', ')"
            inputmode="decimal"
            placeholder="50, 20: the first by half"
            :aria-invalid="isThinningFaulty"
            @change="takeThinning"
          />
          <span v-if="isThinningFaulty" class="late" role="alert"
            >Give a number for each coat, such as 50, 20.</span
          >
        </label>
        <label class="choice"><input v-model="layer.hardener" type="checkbox" /> With hardener</label>
        <label class="choice"
          ><input v-model="layer.stop_rule" type="checkbox" true-value="even-sheen" false-value="coats" />
          Until the sheen is even</label
        >
      </div>
    </details>
    <FindingsList :findings="findings" />
  </fieldset>
</template>

<style scoped>
.layer {
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 10px 12px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
}
.number {
  width: 18px;
  font-size: 18px;
  font-weight: 700;
}
.product {
  flex: 2 1 150px;
  width: 150px;
}
.applicator {
  width: 116px;
}
.coats,
.wait {
  display: inline-flex;
  align-items: center;
  gap: 8px;
}
.coats input {
  width: 52px;
  min-height: 44px;
  padding: 0 8px;
  border: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink);
  font: inherit;
  font-family: var(--mono);
}
.wait .quantity {
  width: 96px;
}
.over {
  font-size: 14px;
}
.need {
  min-width: 66px;
  font-size: 14px;
  text-align: right;
}
.acts {
  display: inline-flex;
  margin-left: auto;
}
.acts .press {
  width: 44px;
  padding: 0;
}
.acts .press + .press {
  border-left: 0;
}
.over,
.more .line {
  padding-left: 28px;
}
.more {
  padding-left: 28px;
  font-size: 14px;
}
.more .line {
  padding: 6px 0 0;
}
.more summary {
  color: var(--quiet);
  cursor: pointer;
}
.grow {
  flex: 1 1 200px;
}
</style>
