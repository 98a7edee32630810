<script setup lang="ts">
import { computed } from 'vue'
import { spanOf } from '@/app/dueWords'
import AnswerKeys from '@/kit/answers/AnswerKeys.vue'
import { responseOf, viewWords } from '@/kit/responses'
import type { Watching } from './useExpose'

/** What is seen with the act that was just done: by its keys, or by a watch. */
const props = defineProps<{
  watching: Watching
  testName: string
  now: number
  /** When what is watched was over, where somebody pressed it. */
  stoppedAt?: number
}>()
const emit = defineEmits<{ answer: [value: number, isBeyond: boolean]; later: [] }>()

const response = computed(() => responseOf(props.watching.prompt.response))
const isWatch = computed(() => props.watching.prompt.response === 'soak-in' && props.watching.since !== null)
const lasted = computed(() => (props.stoppedAt ?? props.now) - (props.watching.since ?? props.now))
const minutes = computed(() => Math.round((lasted.value / 60_000) * 10) / 10)
const title = computed(() =>
  response.value.name === props.testName
    ? `${props.testName} on ${props.watching.panel}`
    : `${response.value.name} of ${props.testName.toLowerCase()} on ${props.watching.panel}`,
)
const ask = computed(() => ({
  response: props.watching.prompt.response,
  view: props.watching.prompt.view,
  against: '',
  value: isWatch.value && props.stoppedAt ? minutes.value : null,
  is_beyond: false,
  note: '',
}))
</script>

<template>
  <section class="sheet observe" aria-labelledby="observe-title">
    <h2 id="observe-title">
      {{ title }}
      <span v-if="watching.prompt.view" class="quiet">{{
        viewWords(watching.prompt.view).toLowerCase()
      }}</span>
    </h2>
    <div v-if="isWatch" class="watch">
      <p class="mono time" data-timer>{{ spanOf(lasted) }}</p>
      <button class="press press-main" @click="emit('answer', minutes, false)">Soaked in after this</button>
      <button v-if="!stoppedAt" class="press" @click="emit('answer', minutes, true)">
        Still there: longer than this
      </button>
    </div>
    <AnswerKeys
      v-else
      :ask="ask"
      :at="`${watching.panel}|${watching.test}|${watching.place}|${watching.prompt.response}|${watching.prompt.view}`"
      :code="watching.panel"
      :is-paused="false"
      @answer="(value, isBeyond) => emit('answer', value, isBeyond)"
    />
    <button class="press" @click="emit('later')">Later: it stays due under Read</button>
  </section>
</template>

<style scoped>
.observe {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 16px 18px;
  border-left: 4px solid var(--due);
}
.watch {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 16px;
}
.time {
  font-size: 28px;
  font-weight: 700;
}
</style>
