<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import QuantityInput from '@/kit/QuantityInput.vue'

/** Which difference is the smallest that is worth knowing, for each thing that is read and compared by differences. */
const props = defineProps<{ asked: readonly Schemas['WorthAsked'][]; isLate: boolean }>()
const worth = defineModel<Record<string, number | null>>({ required: true })

/** Ratios are typed in per cent. */
const factor = (each: Schemas['WorthAsked']) => (each.is_ratio ? 100 : 1)
const shown = (each: Schemas['WorthAsked']) => {
  const own = worth.value[each.response]
  return own == null ? null : Number((own * factor(each)).toPrecision(10))
}
const usual = (each: Schemas['WorthAsked']) =>
  each.usual == null ? 'none' : String(each.usual * factor(each))
const unit = (each: Schemas['WorthAsked']) => (each.is_ratio ? '%' : each.unit)
function set(each: Schemas['WorthAsked'], value: number | null): void {
  worth.value = { ...worth.value, [each.response]: value == null ? null : value / factor(each) }
}
const said = computed(() => props.asked.filter((each) => worth.value[each.response] != null).length)
</script>

<template>
  <fieldset v-if="asked.length">
    <legend>Smallest difference worth knowing</legend>
    <p class="quiet">
      Two that differ by less are called alike. Say it before anything is read; left blank it is what is
      usual.
      <span class="term">(equivalence margin)</span>
    </p>
    <div class="worths">
      <template v-for="each in asked" :key="each.response">
        <label :for="`worth-${each.response}`">{{ each.name }}</label>
        <QuantityInput
          :id="`worth-${each.response}`"
          :model-value="shown(each)"
          quantity="count"
          :placeholder="usual(each)"
          @update:model-value="(value) => set(each, value ?? null)"
        />
        <span class="quiet">{{ unit(each) }}</span>
      </template>
    </div>
    <p v-if="isLate && said" class="caution">
      The trial has started: what is changed once something was read is said on the evidence page.
    </p>
  </fieldset>
</template>

<style scoped>
.worths {
  display: grid;
  grid-template-columns: minmax(0, max-content) 110px minmax(0, 1fr);
  gap: 6px 12px;
  align-items: center;
}
.term {
  font-size: 12px;
}
</style>
