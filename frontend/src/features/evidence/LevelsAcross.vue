<script setup lang="ts">
import IntervalBar from '@/kit/IntervalBar.vue'
import type { Axis } from './axis'
import type { LevelEvidence } from './model'

/** The levels of one factor of three, each over all levels of the others. */
defineProps<{
  factor: string
  levels: readonly LevelEvidence[]
  text: (mean: number | null) => string
  axis: Axis
}>()
</script>

<template>
  <dl class="across">
    <dt class="quiet">{{ factor }}, over all</dt>
    <dd v-for="each in levels" :key="each.level">
      <span class="row"
        ><span>{{ each.level }}</span
        ><b class="mono">{{ text(each.mean) }}</b
        ><span class="mono quiet">{{ each.letters }}</span></span
      >
      <IntervalBar
        v-if="each.mean != null"
        :from="axis.from"
        :to="axis.to"
        :mean="each.mean"
        :low="each.ci?.[0]"
        :high="each.ci?.[1]"
      />
    </dd>
  </dl>
</template>

<style scoped>
.across {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 20px;
  margin: 12px 0 0;
}
dt {
  width: 100%;
}
dd {
  min-width: 140px;
  margin: 0;
}
</style>
