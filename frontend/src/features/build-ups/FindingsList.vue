<script setup lang="ts">
import { SEVERITY_WORDS, type Finding } from './model'

/** What clashes at one place: how grave in a word and a shape, why, and what to do. */
defineProps<{ findings: readonly Finding[] }>()
</script>

<template>
  <ul v-if="findings.length" class="findings">
    <li v-for="finding in findings" :key="finding.rule + finding.reason" :class="finding.severity">
      <svg viewBox="0 0 16 16" aria-hidden="true">
        <path v-if="finding.severity === 'block'" d="M2 2 L14 14 M14 2 L2 14" class="cross" />
        <path v-else-if="finding.severity === 'warn'" d="M8 2 L15 14 H1 Z" class="wedge" />
        <circle v-else cx="8" cy="8" r="5" class="dot" />
      </svg>
      <p>
        <strong>{{ SEVERITY_WORDS[finding.severity] }}.</strong> {{ finding.reason }}
        <span class="quiet">{{ finding.remedy }}</span>
      </p>
    </li>
  </ul>
</template>

<style scoped>
.findings {
  display: flex;
  flex-direction: column;
  gap: 6px;
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 14px;
}
li {
  display: flex;
  gap: 8px;
}
svg {
  flex: none;
  width: 16px;
  height: 16px;
  margin-top: 2px;
  fill: none;
  stroke: currentcolor;
  stroke-width: 2;
}
.block {
  color: var(--late);
}
.warn {
  color: var(--caution);
}
.note svg {
  color: var(--quiet);
}
.dot {
  fill: currentcolor;
  stroke: none;
}
.cross {
  stroke-width: 3;
}
p {
  color: var(--ink);
}
.block strong,
.warn strong {
  color: inherit;
}
.block p strong {
  color: var(--late);
}
.warn p strong {
  color: var(--caution);
}
</style>
