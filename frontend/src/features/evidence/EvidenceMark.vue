<script setup lang="ts">
import { computed } from 'vue'
import GradeMark from '@/kit/GradeMark.vue'
import IntervalBar from '@/kit/IntervalBar.vue'
import type { Axis } from './axis'
import ShareStrip from './ShareStrip.vue'
import { told } from './told'
import type { ShownTest, SystemEvidence } from './model'

/** One build-up in one test: its sign, its number or word, and how sure it is. */
const props = defineProps<{ response: string; test: ShownTest; row: SystemEvidence; axis: Axis }>()
const drawn = computed(() => told(props.response, props.test, props.row))
</script>

<template>
  <span class="value"
    ><GradeMark
      v-if="response === 'grade' && row.mean != null && test.told_as === 'difference'"
      :grade="row.mean"
      :size="24"
    /><b class="mono">{{ drawn.text }}</b></span
  >
  <ShareStrip v-if="test.told_as === 'rank' && row.steps.length" :steps="row.steps" />
  <IntervalBar
    v-else-if="drawn.at != null"
    :from="axis.from"
    :to="axis.to"
    :mean="drawn.at"
    :low="drawn.low"
    :high="drawn.high ?? (drawn.low == null ? null : axis.to)"
  />
</template>

<style scoped>
.value {
  display: flex;
  align-items: center;
  gap: 8px;
  font-size: 17px;
}
@media (max-width: 900px) {
  .value {
    gap: 4px;
    font-size: 15px;
  }
}
</style>
