<script setup lang="ts">
import type { Schemas } from '@/api/client'
import GradeMark from '@/kit/GradeMark.vue'

/** The five grades as large buttons: a key each, a mark, and its words. */
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
</style>
