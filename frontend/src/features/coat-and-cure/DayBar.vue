<script setup lang="ts">
import { computed, nextTick, useTemplateRef, watch } from 'vue'
import { dayWords, laterDate, type BenchDay } from './model'

/** The days that have work, as a row to choose from. */
const props = defineProps<{ days: readonly BenchDay[]; first: string; nDays: number }>()
defineEmits<{ show: [date: string] }>()

const last = computed(() => laterDate(props.first, props.nDays - 1))
const row = useTemplateRef<HTMLElement>('row')

function isShown(date: string): boolean {
  return date >= props.first && date <= last.value
}
watch(
  () => props.first,
  async () => {
    await nextTick()
    row.value
      ?.querySelector('[aria-current="date"]')
      ?.scrollIntoView?.({ inline: 'center', block: 'nearest' })
  },
  { immediate: true },
)
</script>

<template>
  <nav class="bar" aria-label="Days with work">
    <ol ref="row">
      <li v-for="day in days" :key="day.date">
        <button
          class="day"
          :class="{ shown: isShown(day.date), done: day.n_done === day.n_operations }"
          :aria-current="isShown(day.date) ? 'date' : undefined"
          @click="$emit('show', day.date)"
        >
          {{ dayWords(day.date, 'short') }}
          <small class="mono">{{
            day.n_done === day.n_operations ? 'done' : `${day.n_done}/${day.n_operations}`
          }}</small>
        </button>
      </li>
    </ol>
  </nav>
</template>

<style scoped>
.bar {
  overflow-x: auto;
}
ol {
  display: flex;
  margin: 0;
  padding: 0;
  list-style: none;
}
.day {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  justify-content: center;
  min-width: 76px;
  min-height: 48px;
  padding: 2px 10px;
  border: 0;
  border-bottom: 3px solid var(--hairline);
  background: none;
  color: var(--ink);
  font-size: 14px;
  line-height: 1.2;
  text-align: left;
  white-space: nowrap;
  cursor: pointer;
}
.day small {
  color: var(--quiet);
}
.day.shown {
  border-bottom-color: var(--ink);
  background: var(--paper);
  font-weight: 700;
}
.day:focus-visible {
  outline-offset: -3px;
}
</style>
