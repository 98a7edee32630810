<script setup lang="ts">
import { saveText, svgText } from './save'

/** Takes away what stands beside it: the drawing as SVG, the table as CSV. */
const props = defineProps<{ name: string; svg?: SVGSVGElement | null; csv?: () => string }>()

const fileName = (end: string) =>
  `${
    props.name
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-|-$/g, '') || 'evidence'
  }.${end}`
</script>

<template>
  <span class="row save">
    <button
      v-if="svg"
      class="press small"
      :aria-label="`Save the drawing of ${name} as SVG`"
      @click="saveText(fileName('svg'), svgText(svg), 'image/svg+xml')"
    >
      SVG
    </button>
    <button
      v-if="csv"
      class="press small"
      :aria-label="`Save the table of ${name} as CSV`"
      @click="saveText(fileName('csv'), csv(), 'text/csv')"
    >
      CSV
    </button>
  </span>
</template>

<style scoped>
.save {
  display: inline-flex;
  gap: 6px;
}
.small {
  min-height: 32px;
  padding: 0 10px;
  font-size: 13px;
}
@media (pointer: coarse) {
  .small {
    min-height: 44px;
  }
}
</style>
