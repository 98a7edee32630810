<script setup lang="ts">
import { responseOf, valueWords, viewWords } from '@/kit/responses'
import type { Ask } from './model'

/** All that is asked at the site in hand, with what stands; press one to take it. */
defineProps<{ asks: readonly Ask[]; here: number; code: string }>()
defineEmits<{ take: [index: number] }>()
</script>

<template>
  <ol class="asks">
    <li v-for="(ask, index) in asks" :key="`${ask.response}|${ask.view}|${ask.against}`">
      <button
        :class="{ here: index === here }"
        :aria-current="index === here ? 'true' : undefined"
        @click="$emit('take', index)"
      >
        <span>{{ ask.against ? `${code} or ${ask.against}?` : responseOf(ask.response).name }}</span>
        <small v-if="ask.view" class="quiet">{{ viewWords(ask.view) }}</small>
        <b class="mono">{{
          ask.value == null
            ? '–'
            : ask.against
              ? ask.value === 0.5
                ? 'neither'
                : ask.value > 0.5
                  ? code
                  : ask.against
              : valueWords(ask.response, ask.value, ask.is_beyond)
        }}</b>
      </button>
    </li>
  </ol>
</template>

<style scoped>
.asks {
  max-height: 240px;
  margin: 0;
  padding: 0;
  overflow-y: auto;
  list-style: none;
}
button {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  align-items: center;
  gap: 10px;
  width: 100%;
  min-height: 36px;
  padding: 2px 10px;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  background: none;
  color: var(--ink);
  font-size: 14px;
  text-align: left;
  cursor: pointer;
}
button b {
  max-width: 130px;
  text-align: right;
}
.here {
  background: var(--paper);
  box-shadow: inset 4px 0 0 var(--accent);
}
@media (max-width: 640px) {
  button {
    min-height: 44px;
  }
}
</style>
