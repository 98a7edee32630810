<script setup lang="ts">
import { computed } from 'vue'
import { percentText } from '@/kit/scale'

/** How often each step was read, the best first, as one bar: darker is worse, as with grades. */
const props = defineProps<{ steps: readonly { words: string; share: number }[] }>()

const SHADES = 5
const parts = computed(() => {
  const n = props.steps.length
  let x = 0
  return props.steps
    .map((step, index) => {
      const part = { ...step, x, shade: SHADES - Math.round((index * (SHADES - 1)) / Math.max(n - 1, 1)) }
      x += 100 * step.share
      return part
    })
    .filter((part) => part.share > 0)
})
const says = computed(() =>
  parts.value.map((part) => `${part.words.toLowerCase()} ${percentText(part.share)}`).join(', '),
)
</script>

<template>
  <svg class="strip" viewBox="0 0 100 12" preserveAspectRatio="none" role="img" :aria-label="says">
    <title>{{ says }}</title>
    <rect
      v-for="part in parts"
      :key="part.words"
      :x="part.x"
      y="1"
      :width="100 * part.share"
      height="10"
      :style="{ fill: `var(--grade-${part.shade})` }"
      class="part"
      vector-effect="non-scaling-stroke"
    />
  </svg>
</template>

<style scoped>
.strip {
  display: block;
  width: 100%;
  height: 12px;
}
.part {
  stroke: var(--line);
  stroke-width: 1;
}
</style>
