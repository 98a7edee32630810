<script setup lang="ts">
import { computed, ref } from 'vue'
import { clockOf, momentOf, ms, type BenchDay, type Operation } from './model'

/** Work that is written down afterwards: when it really began and ended. */
const props = defineProps<{ operation: Operation; day: BenchDay; zone: string; now: number }>()
const emit = defineEmits<{ done: [begun: number, ended: number] }>()

const length = ms(props.operation.end_at) - ms(props.operation.start_at)
const ended = ref(clockOf(Math.min(props.now, ms(props.operation.end_at)), props.zone, true))
const begun = ref(clockOf(Math.min(props.now, ms(props.operation.end_at)) - length, props.zone, true))
const moments = computed(() => ({
  begun: momentOf(begun.value, props.day, props.zone),
  ended: momentOf(ended.value, props.day, props.zone),
}))
const trouble = computed(() => {
  const { begun: from, ended: to } = moments.value
  if (from === null || to === null) return 'Write the times as 9:46 or 9:46:20.'
  if (to < from) return 'It ended before it began.'
  return to > props.now + 60_000 ? 'That has not come yet.' : ''
})

function done(): void {
  const { begun: from, ended: to } = moments.value
  if (!trouble.value && from !== null && to !== null) emit('done', from, to)
}
</script>

<template>
  <form class="other" @submit.prevent="done">
    <label for="begun-at">Begun at</label>
    <input id="begun-at" v-model="begun" class="box mono" />
    <label for="ended-at">done at</label>
    <input id="ended-at" v-model="ended" class="box mono" />
    <button class="press press-main" :disabled="Boolean(trouble)">Write it down</button>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
    <p v-else class="quiet">Panels are taken to have been done one after the other, in their order here.</p>
  </form>
</template>

<style scoped>
.other {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 10px;
}
.other p {
  flex-basis: 100%;
}
.box {
  width: 104px;
}
</style>
