<script setup lang="ts">
import GradeMark from '@/kit/GradeMark.vue'
import type { DeclaredStep } from '@/kit/responses'

/** The steps of a scale as large buttons: a key each, a mark where it is a grade, and its words. */
const props = defineProps<{
  steps: readonly DeclaredStep[]
  /** Their ends in other words, by value: of a choice the codes of the two. */
  renamed?: ReadonlyMap<number, string>
  isGrade: boolean
  standing: number | null
  label: string
}>()
defineEmits<{ answer: [value: number] }>()
const isStanding = (value: number) => props.standing != null && Math.abs(props.standing - value) < 1e-9
</script>

<template>
  <div class="keys" role="group" :aria-label="label">
    <button
      v-for="step in steps"
      :key="step.value"
      class="key"
      :class="{ standing: isStanding(step.value) }"
      :aria-pressed="isStanding(step.value)"
      :title="step.says"
      @click="$emit('answer', step.value)"
    >
      <b class="mono">{{ step.key }}</b>
      <GradeMark v-if="isGrade" :grade="step.value" />
      <span>{{ renamed?.get(step.value) ?? step.words }}</span>
    </button>
  </div>
</template>

<style scoped>
.key {
  display: flex;
  align-items: center;
  gap: 14px;
  width: 100%;
  min-height: 52px;
  padding: 0 10px;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  background: none;
  color: var(--ink);
  font-size: 15px;
  text-align: left;
  cursor: pointer;
}
.key b {
  width: 22px;
  font-size: 20px;
}
.key:hover,
.standing {
  background: var(--paper);
}
.standing {
  font-weight: 700;
  box-shadow: inset 4px 0 0 var(--accent);
}
/* On a phone they stand at the thumb, always in sight. */
@media (max-width: 640px) {
  .keys {
    position: fixed;
    right: 0;
    bottom: 0;
    left: 0;
    z-index: 20;
    display: grid;
    grid-auto-columns: minmax(0, 1fr);
    grid-auto-flow: column;
    padding-bottom: env(safe-area-inset-bottom);
    border-top: 1px solid var(--hairline);
    background: var(--paper);
    box-shadow: 0 -4px 14px rgb(0 0 0 / 18%);
  }
  .key {
    flex-direction: column;
    justify-content: center;
    gap: 2px;
    min-height: 76px;
    padding: 4px 2px;
    border-right: 1px solid var(--hairline);
    border-bottom: 0;
    font-size: 12px;
    line-height: 1.15;
    text-align: center;
  }
  .key b {
    width: auto;
  }
  .standing {
    box-shadow: inset 0 4px 0 var(--accent);
  }
}
</style>
