<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, useTemplateRef } from 'vue'
import { isForScreen } from '@/kit/screenKeys'
import { GRADE_WORDS, responseOf, valueWords, viewWords } from '@/kit/responses'
import KindKeys from './KindKeys.vue'
import MeasureKeys from './MeasureKeys.vue'
import type { Ask } from './ask'
import StepKeys from './StepKeys.vue'

/** What enters the value in hand, by its declaration: the keys of a scale, kinds to turn on, or a number. */
const props = defineProps<{
  ask: Ask
  at: string
  code: string
  isPaused: boolean
  inWords?: boolean
  /** What was read from the view before: the same again is one key. */
  same?: { value: number; view: string } | null
}>()
const emit = defineEmits<{ answer: [value: number, isBeyond: boolean] }>()

const response = computed(() => responseOf(props.ask.response))
const isSteps = computed(() => response.value.form === 'scale' || response.value.form === 'pair')
const label = computed(() =>
  props.ask.response === 'grade'
    ? 'Grade this spot'
    : [response.value.name, props.ask.view ? viewWords(props.ask.view).toLowerCase() : '']
        .filter(Boolean)
        .join(', '),
)
/** Of two that are chosen between half are shown the other way round, so that no side is favoured. */
const codes = computed(() => {
  const { against, isSwapped } = props.ask
  if (!against) return undefined
  return new Map([
    [1, isSwapped ? against : props.code],
    [0.5, 'Neither'],
    [0, isSwapped ? props.code : against],
  ])
})
const steps = computed(() =>
  props.inWords && props.ask.response === 'grade' ? GRADE_WORDS : response.value.steps,
)
/** As it is shown is not always as it is kept. */
const turned = (value: number) => (props.ask.isSwapped ? 1 - value : value)
const kinds = useTemplateRef<{ turn: (value: number) => void; keep: () => void }>('kinds')

// Before the keys of the page: a step may be called N or U.
useEventListener(
  window,
  'keydown',
  (event: KeyboardEvent) => {
    if (props.isPaused || response.value.form === 'measure' || !isForScreen(event)) return
    const step = steps.value.find((found) => found.key === event.key)
    const isPressed = /^(BUTTON|A)$/.test((event.target as HTMLElement).tagName)
    if (step) {
      // A held key must not answer for the next values too.
      if (event.repeat) return
      if (isSteps.value) emit('answer', turned(step.value), false)
      else kinds.value?.turn(step.value)
    } else if (props.same && (event.key === '=' || (event.key === ' ' && !isPressed))) {
      if (event.repeat) return
      emit('answer', props.same.value, false)
    } else if (event.key === 'Enter' && kinds.value && !isPressed) kinds.value.keep()
    else return
    event.preventDefault()
    event.stopImmediatePropagation()
  },
  { capture: true },
)
</script>

<template>
  <button v-if="same" class="press same" @click="$emit('answer', same.value, false)">
    <span class="mono">=</span>&nbsp;the same as {{ viewWords(same.view).toLowerCase() }}:
    {{ valueWords(ask.response, same.value) }}
  </button>
  <StepKeys
    v-if="isSteps"
    :steps="steps"
    :renamed="codes"
    :is-grade="ask.response === 'grade'"
    :standing="ask.value == null ? null : turned(ask.value)"
    :label="label"
    @answer="(value) => $emit('answer', turned(value), false)"
  />
  <KindKeys
    v-else-if="response.form === 'kinds'"
    ref="kinds"
    :key="at"
    :steps="response.steps"
    :standing="ask.value"
    :label="label"
    @answer="(value) => $emit('answer', value, false)"
  />
  <MeasureKeys
    v-else
    :response="response"
    :label="label"
    :at="at"
    :standing="ask.value"
    :is-beyond="ask.is_beyond"
    @answer="(value, isBeyond) => $emit('answer', value, isBeyond)"
  />
</template>

<style scoped>
.same {
  width: 100%;
  justify-content: flex-start;
}
</style>
