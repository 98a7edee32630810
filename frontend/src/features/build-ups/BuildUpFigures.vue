<script setup lang="ts">
import { quantityOf } from '@/kit/units'
import { handsOn, type Assessment } from './model'

/** What a build-up costs, takes and lasts, for this trial. */
defineProps<{ assessment: Assessment }>()
</script>

<template>
  <dl class="figures">
    <div>
      <dt>Costs</dt>
      <dd class="mono">{{ quantityOf('price_per_m2', assessment.cost_per_m2) }}</dd>
    </div>
    <div>
      <dt>In this trial</dt>
      <dd class="mono">{{ quantityOf('price', assessment.cost) }}</dd>
    </div>
    <div>
      <dt>Area, faces coated</dt>
      <dd class="mono">{{ quantityOf('square_metres', assessment.area_m2) }}</dd>
    </div>
    <div>
      <dt>Hands-on, estimated</dt>
      <dd class="mono">{{ handsOn(assessment.hands_on_min) }}</dd>
    </div>
    <div>
      <dt>Ready to test</dt>
      <dd class="mono">{{ quantityOf('days', assessment.days) }}</dd>
    </div>
  </dl>
</template>

<style scoped>
.figures {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(110px, 1fr));
  gap: 8px 16px;
  margin: 0;
}
dt {
  color: var(--quiet);
  font-size: 14px;
}
dd {
  margin: 0;
  font-size: 18px;
}
</style>
