<script setup lang="ts">
import QuantityInput from '@/kit/QuantityInput.vue'

/** A panel's length, width and margin: numbers may be empty while they are typed. */
interface PanelSizes {
  panel_length_mm: number | null
  panel_width_mm: number | null
  margin_mm: number | null
}
defineProps<{ isFixed?: boolean }>()
const sizes = defineModel<PanelSizes>({ required: true })
const FIELDS = [
  { id: 'length', field: 'panel_length_mm', name: 'Length' },
  { id: 'width', field: 'panel_width_mm', name: 'Width' },
  { id: 'margin', field: 'margin_mm', name: 'Margin' },
] as const
</script>

<template>
  <fieldset class="field">
    <legend>Panels</legend>
    <div class="row sizes">
      <template v-for="{ id, field, name } in FIELDS" :key="id">
        <label :for="id">{{ name }}</label>
        <QuantityInput :id="id" v-model="sizes[field]" quantity="millimetres" :disabled="isFixed" />
      </template>
    </div>
    <span class="hint">The length lies along the grain. The margin is kept round every ring.</span>
  </fieldset>
</template>

<style scoped>
.sizes :deep(.quantity) {
  width: 92px;
}
</style>
