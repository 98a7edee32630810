<script setup lang="ts">
import { fineTicks, onRule, TICKS } from './model'

/** The head of the rule of time, from six seconds to two years, each tenfold as long as the one before. */
const fine = fineTicks()
</script>

<template>
  <div class="rule" aria-hidden="true">
    <i v-for="place in fine" :key="place" :style="{ left: `${place}%` }" class="fine" />
    <span v-for="tick in TICKS" :key="tick.min" :style="{ left: `${onRule(tick.min)}%` }">{{
      tick.words
    }}</span>
  </div>
</template>

<style scoped>
.rule {
  position: relative;
  height: 34px;
  border-bottom: 1px solid var(--quiet);
}
.rule span {
  position: absolute;
  top: 2px;
  color: var(--quiet);
  font: 12px var(--mono);
  white-space: nowrap;
  transform: translateX(-50%);
}
.rule span:first-of-type {
  transform: none;
}
.rule span::after {
  position: absolute;
  top: 19px;
  left: 50%;
  width: 1px;
  height: 12px;
  background: var(--quiet);
  content: '';
}
.rule span:first-of-type::after {
  left: 0;
}
.fine {
  position: absolute;
  bottom: 0;
  width: 1px;
  height: 4px;
  background: var(--line);
}
@media (max-width: 900px) {
  .rule span:nth-of-type(even) {
    display: none;
  }
}
</style>
