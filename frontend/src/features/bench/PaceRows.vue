<script setup lang="ts">
import QuantityInput from '@/kit/QuantityInput.vue'
import { isOther, tookWords, type Bench } from './model'

/** How fast the shop's hands work, and what its own log says of it. Plans reckon with it. */
defineProps<{ paces: Bench['paces'] }>()
const own = defineModel<Record<string, number | null>>({ required: true })
</script>

<template>
  <div class="paces">
    <template v-for="pace in paces" :key="pace.kind">
      <label :for="`pace-${pace.kind}`">{{ pace.words }}</label>
      <QuantityInput
        :id="`pace-${pace.kind}`"
        :model-value="own[pace.kind] ?? null"
        quantity="minutes"
        :placeholder="String(pace.usual)"
        @update:model-value="own[pace.kind] = $event"
      />
      <span class="took">
        <template v-if="pace.logged_minutes_per_m2 !== null">
          {{ tookWords(pace) }}
          <button
            v-if="isOther(pace) && own[pace.kind] !== pace.logged_minutes_per_m2"
            type="button"
            class="press"
            :aria-label="`${pace.words}: plan it as logged`"
            @click="own[pace.kind] = pace.logged_minutes_per_m2"
          >
            Plan it so
          </button>
        </template>
        <span v-else class="quiet">nothing logged yet</span>
      </span>
    </template>
  </div>
</template>

<style scoped>
.paces {
  display: grid;
  grid-template-columns: minmax(160px, auto) 140px minmax(0, 1fr);
  gap: 8px 18px;
  align-items: center;
  width: 100%;
}
.took {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
  min-height: 44px;
}
@media (max-width: 700px) {
  .paces {
    grid-template-columns: minmax(0, 1fr) 140px;
  }
  .took {
    grid-column: 1 / -1;
    min-height: 0;
    margin-bottom: 10px;
  }
}
</style>
