<script setup lang="ts">
import type { Schemas } from '@/api/client'
import QuantityInput from '@/kit/QuantityInput.vue'
import {
  DISCLOSURE_WORDS,
  FOOD_WORDS,
  isUntouched,
  OBTAINED_WORDS,
  ONE_PART,
  SHEEN_WORDS,
  TWO_PARTS,
  type ProductDraft,
} from './model'

/** What a product is: name, maker, family, and what is known of its contents. */
const props = defineProps<{ families: readonly Schemas['Family'][]; family?: Schemas['Family'] }>()
const draft = defineModel<ProductDraft>({ required: true })

/** A family that is mixed begins with its two parts, until the parts have been worked on. */
function takeFamily(id: string): void {
  draft.value.family = id
  const isMixed = props.families.find((one) => one.id === id)?.two_part ?? false
  if (isMixed && isUntouched(draft.value, ONE_PART))
    draft.value.parts = TWO_PARTS.map((part) => ({ ...part }))
  else if (!isMixed && isUntouched(draft.value, TWO_PARTS))
    draft.value.parts = ONE_PART.map((part) => ({ ...part }))
}
</script>

<template>
  <section class="sheet part">
    <h2>What it is</h2>
    <div class="field">
      <label for="product-name">Name</label>
      <el-input id="product-name" v-model="draft.name" maxlength="120" />
    </div>
    <div class="pair">
      <div class="field">
        <label for="product-maker">Maker</label>
        <el-input id="product-maker" v-model="draft.maker" maxlength="120" />
      </div>
      <div class="field">
        <label for="product-family">Family</label>
        <el-select
          id="product-family"
          :model-value="draft.family"
          filterable
          default-first-option
          placeholder="Choose"
          @update:model-value="takeFamily"
        >
          <el-option v-for="one in families" :key="one.id" :value="one.id" :label="one.name" />
        </el-select>
      </div>
    </div>
    <p v-if="family" class="quiet">
      {{ family.says }} It {{ family.setting }}. To mend: {{ family.mending.toLowerCase() }}.
      <template v-if="family.redissolved_by">Softened by {{ family.redissolved_by }}.</template>
    </p>
    <div class="pair">
      <div class="field">
        <label for="product-sheen">Sheen</label>
        <el-select
          id="product-sheen"
          v-model="draft.sheen"
          clearable
          :value-on-clear="''"
          placeholder="Not said"
        >
          <el-option v-for="(words, id) in SHEEN_WORDS" :key="id" :value="id" :label="words" />
        </el-select>
      </div>
      <div class="field">
        <label for="product-tint">Tint</label>
        <el-input id="product-tint" v-model="draft.tint" maxlength="60" placeholder="Clear" />
      </div>
    </div>
    <div class="field">
      <label for="product-disclosure">Disclosure</label>
      <el-select id="product-disclosure" v-model="draft.disclosure">
        <el-option v-for="(words, id) in DISCLOSURE_WORDS" :key="id" :value="id" :label="words" />
      </el-select>
    </div>
    <div class="field">
      <label for="product-ingredients">Ingredients that are named</label>
      <el-input id="product-ingredients" v-model="draft.ingredients" type="textarea" autosize />
    </div>
    <div class="field">
      <label for="product-food">Food contact</label>
      <el-select id="product-food" v-model="draft.food_contact">
        <el-option v-for="(words, id) in FOOD_WORDS" :key="id" :value="id" :label="words" />
      </el-select>
    </div>
    <div class="field">
      <label for="product-obtained">How obtained</label>
      <el-select id="product-obtained" v-model="draft.obtained">
        <el-option v-for="(words, id) in OBTAINED_WORDS" :key="id" :value="id" :label="words" />
      </el-select>
    </div>
    <div class="pair three">
      <div class="field">
        <label for="product-voc">VOC</label>
        <QuantityInput
          id="product-voc"
          :model-value="draft.voc_g_per_l ?? null"
          quantity="g_per_l"
          @update:model-value="draft.voc_g_per_l = $event"
        />
      </div>
      <div class="field">
        <label for="product-solids">Solids</label>
        <QuantityInput
          id="product-solids"
          :model-value="draft.solids_pct ?? null"
          quantity="percent"
          :placeholder="family && String(family.usual.solids_pct)"
          @update:model-value="draft.solids_pct = $event"
        />
      </div>
      <div class="field">
        <label for="product-density">Density</label>
        <QuantityInput
          id="product-density"
          :model-value="draft.density_g_per_ml ?? null"
          quantity="g_per_ml"
          @update:model-value="draft.density_g_per_ml = $event"
        />
      </div>
    </div>
    <div class="field">
      <label for="product-note">Note</label>
      <el-input id="product-note" v-model="draft.note" type="textarea" autosize />
    </div>
  </section>
</template>

<style scoped>
.part {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 16px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
.three {
  grid-template-columns: repeat(3, 1fr);
}
</style>
