<script setup lang="ts">
import type { Schemas } from '@/api/client'
import GradeMark from '@/kit/GradeMark.vue'

/** The steps of the scale as large buttons: a key each, a mark, and its words. */
defineProps<{ grades: readonly Schemas['GradeMeaning'][]; standing: number | null }>()
defineEmits<{ grade: [value: number] }>()
</script>

<template>
  <div class="keys" role="group" aria-label="Grade this spot">
    <button
      v-for="meaning in grades"
      :key="meaning.grade"
      class="key"
      :class="{ standing: standing === meaning.grade }"
      :aria-pressed="standing === meaning.grade"
      :title="meaning.says"
      @click="$emit('grade', meaning.grade)"
    >
      <b class="mono">{{ meaning.grade }}</b>
      <GradeMark :grade="meaning.grade" />
      <span>{{ meaning.words }}</span>
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
