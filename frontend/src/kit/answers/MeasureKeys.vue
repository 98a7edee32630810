<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import type { DeclaredResponse } from '@/kit/responses'
import { readNumber } from '@/kit/units'

/** A number with its unit, typed or taken from the instrument; one that is unlikely is asked about once. */
const props = defineProps<{
  response: DeclaredResponse
  label: string
  /** Changes with what is in hand, so that nothing typed for one value stands at the next. */
  at: string
  standing: number | null
  isBeyond: boolean
}>()
const emit = defineEmits<{ answer: [value: number, isBeyond: boolean] }>()
const typed = ref('')
const beyond = ref(false)
const says = ref('')
const isSure = ref(false)
const box = useTemplateRef<HTMLInputElement>('box')

watch(
  () => props.at,
  async () => {
    typed.value = props.standing == null ? '' : String(props.standing)
    beyond.value = props.isBeyond
    says.value = ''
    isSure.value = false
    await nextTick()
    box.value?.focus({ preventScroll: true })
    box.value?.select()
  },
  { immediate: true },
)
const range = computed(() =>
  props.response.lowest != null && props.response.highest != null
    ? `${props.response.lowest} to ${props.response.highest}${props.response.unit ? ` ${props.response.unit}` : ''}`
    : '',
)
const source = computed(() =>
  [
    props.response.n_readings > 1 ? `the mean of ${props.response.n_readings} readings` : '',
    props.response.instrument,
  ]
    .filter(Boolean)
    .join(' · '),
)

function keep(): void {
  const value = readNumber(typed.value)
  const { lowest, highest, unlikely, noun } = props.response
  if (value == null) {
    says.value = `Give the ${noun} as a number.`
  } else if ((lowest != null && value < lowest) || (highest != null && value > highest)) {
    says.value = `${typed.value} cannot be: ${range.value}.`
  } else if (
    !isSure.value &&
    unlikely &&
    (value < (unlikely[0] ?? value) || value > (unlikely[1] ?? value))
  ) {
    isSure.value = true
    says.value = `${typed.value} is unusual for ${noun}. Look again; keep it once more if it is so.`
  } else {
    emit('answer', value, props.response.may_exceed && beyond.value)
  }
}
</script>

<template>
  <form class="measure" @submit.prevent="keep">
    <label for="measure"
      >{{ label }}<template v-if="response.unit">, {{ response.unit }}</template></label
    >
    <div class="row">
      <input
        id="measure"
        ref="box"
        v-model="typed"
        class="mono"
        inputmode="decimal"
        autocomplete="off"
        :aria-describedby="says ? 'measure-says' : undefined"
        @input="isSure = false"
      />
      <button class="press press-main">Keep&nbsp;<span class="mono">↵</span></button>
    </div>
    <label v-if="response.may_exceed" class="beyond"
      ><input v-model="beyond" type="checkbox" /> more than this: it was not over yet</label
    >
    <p v-if="source" class="quiet">{{ source }}</p>
    <p v-if="says" id="measure-says" class="caution" role="alert">{{ says }}</p>
  </form>
</template>

<style scoped>
.measure {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
#measure {
  flex: 1;
  min-width: 0;
  min-height: 52px;
  padding: 0 12px;
  border: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink);
  font-size: 20px;
}
.beyond {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 44px;
}
</style>
