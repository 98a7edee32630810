<script setup lang="ts">
import { computed } from 'vue'
import { responseOf } from '@/kit/responses'

/** What the keys of this screen do. */
const props = defineProps<{ response: string }>()
const declared = computed(() => responseOf(props.response))
const keys = computed(() => declared.value.steps.map((step) => step.key))
</script>

<template>
  <dl class="sheet all-keys">
    <template v-if="declared.form === 'measure'">
      <dt>Enter</dt>
      <dd>keep the number and move on</dd>
      <dt>Tab</dt>
      <dd>leave the box, for the keys below</dd>
    </template>
    <template v-else-if="declared.form === 'kinds'">
      <dt>{{ keys.join(' ') }}</dt>
      <dd>turn a kind on or off</dd>
      <dt>Enter</dt>
      <dd>keep them and move on</dd>
    </template>
    <template v-else>
      <dt>{{ keys.join(' ') }}</dt>
      <dd>enter it and move on</dd>
    </template>
    <dt>← → ↑ ↓</dt>
    <dd>move to another spot</dd>
    <dt>[ and ]</dt>
    <dd>previous and next panel</dd>
    <dt>U</dt>
    <dd>take the last entry back</dd>
    <dt>N</dt>
    <dd>write a note</dd>
    <template v-if="declared.is_drawn">
      <dt>W</dt>
      <dd>what each step looks like</dd>
    </template>
    <dt>=</dt>
    <dd>the same as from the view before</dd>
    <dt>P</dt>
    <dd>take or choose a photograph</dd>
  </dl>
</template>

<style scoped>
.all-keys {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 14px;
  margin: 0;
  padding: 12px;
}
.all-keys dt {
  font-family: var(--mono);
}
.all-keys dd {
  margin: 0;
}
</style>
