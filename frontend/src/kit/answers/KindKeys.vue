<script setup lang="ts">
import { ref, watch } from 'vue'
import type { DeclaredStep } from '@/kit/responses'

/** Any of several kinds: each key turns one on or off, Enter keeps them; none of them is an answer too. */
const props = defineProps<{ steps: readonly DeclaredStep[]; standing: number | null; label: string }>()
const emit = defineEmits<{ answer: [value: number] }>()
const held = ref(0)
watch(
  () => props.standing,
  (now) => (held.value = now ?? 0),
  { immediate: true },
)

function turn(value: number): void {
  held.value ^= value
}
function keep(): void {
  emit('answer', held.value)
}
defineExpose({ turn, keep })
</script>

<template>
  <div class="kinds" role="group" :aria-label="label">
    <button
      v-for="step in steps"
      :key="step.value"
      class="kind"
      :class="{ on: (held & step.value) !== 0 }"
      :aria-pressed="(held & step.value) !== 0"
      :title="step.says"
      @click="turn(step.value)"
    >
      <b class="mono">{{ step.key }}</b><span>{{ step.words }}</span>
    </button>
    <button class="press press-main keep" @click="keep">
      {{ held ? 'Keep these' : 'None of these' }}&nbsp;<span class="mono">↵</span>
    </button>
  </div>
</template>

<style scoped>
.kinds {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px;
}
.kind {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 44px;
  padding: 0 10px;
  border: 1px solid var(--hairline);
  background: none;
  color: var(--ink);
  text-align: left;
  cursor: pointer;
}
.kind.on {
  background: var(--paper);
  box-shadow: inset 4px 0 0 var(--accent);
  font-weight: 700;
}
.keep {
  grid-column: 1 / -1;
}
/* On a phone they stand at the thumb, always in sight. */
@media (max-width: 640px) {
  .kinds {
    position: fixed;
    right: 0;
    bottom: 0;
    left: 0;
    z-index: 20;
    grid-template-columns: repeat(4, minmax(0, 1fr));
    gap: 0;
    padding-bottom: env(safe-area-inset-bottom);
    border-top: 1px solid var(--line);
    background: var(--paper);
  }
  .kind {
    flex-direction: column;
    justify-content: center;
    gap: 0;
    min-height: 52px;
    padding: 4px 2px;
    font-size: 12px;
    line-height: 1.15;
    text-align: center;
  }
  .kind.on {
    background: var(--ground);
    box-shadow: inset 0 4px 0 var(--accent);
  }
  .keep {
    min-height: 52px;
  }
}
</style>
