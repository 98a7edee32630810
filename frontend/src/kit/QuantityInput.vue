<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { readNumber, signOf, toMetric, toScreen, unitSystem } from './units'

/** A number with its unit, shown metric or US; the model is metric, null when blank. What is typed stays as typed. */
const props = defineProps<{
  id: string
  quantity: string
  label?: string
  placeholder?: string
  disabled?: boolean
}>()
const model = defineModel<number | null>({ required: true })

const input = ref<HTMLInputElement | null>(null)
const isFaulty = ref(false)
const isFocused = ref(false)
const text = ref(shown())
const sign = computed(() => signOf(props.quantity))

/** To the last digit while it is worked on, else to seven, which a converted figure fits a box with. */
function shown(): string {
  if (model.value == null) return ''
  const value = toScreen(props.quantity, model.value)
  return String(isFocused.value ? value : Number(value.toPrecision(7)))
}

function take(): void {
  const typed = readNumber(text.value)
  isFaulty.value = typed === undefined
  // The browser then keeps the form from being sent, and says why at the field.
  input.value?.setCustomValidity(isFaulty.value ? 'Give a number, such as 12.5, or leave it blank.' : '')
  if (typed === undefined) return
  model.value = typed === null ? null : toMetric(props.quantity, typed)
}

function focus(isIn: boolean): void {
  isFocused.value = isIn
  if (!isFaulty.value) text.value = shown()
}

watch([model, unitSystem, sign], () => {
  const typed = readNumber(text.value)
  const isSame = typed === null ? model.value == null : typed !== undefined && shown() === String(typed)
  // A box that is cleared to type something else stays clear until it is left.
  const isCleared = typed === null && isFocused.value
  if (!isSame && !isFaulty.value && !isCleared) text.value = shown()
})
</script>

<template>
  <span class="quantity" :class="{ faulty: isFaulty }">
    <input
      :id="id"
      ref="input"
      v-model="text"
      inputmode="decimal"
      autocomplete="off"
      :aria-label="label"
      :aria-invalid="isFaulty"
      :placeholder="placeholder"
      :disabled="disabled"
      @input="take"
      @focus="focus(true)"
      @blur="focus(false)"
    />
    <span v-if="sign" class="sign">{{ sign }}</span>
  </span>
</template>

<style scoped>
.quantity {
  display: inline-flex;
  align-items: center;
  width: 100%;
  min-width: 80px;
  min-height: 44px;
  border: 1px solid var(--line);
  background: var(--paper);
}
.quantity:focus-within {
  outline: 3px solid var(--accent);
  outline-offset: 1px;
}
.quantity:has(:disabled) {
  background: var(--el-disabled-bg-color);
}
.quantity :disabled {
  color: var(--el-disabled-text-color);
}
.faulty {
  border-color: var(--late);
}
input {
  flex: 1;
  width: 0;
  min-width: 0;
  height: 42px;
  padding: 0 10px;
  border: 0;
  outline: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  font-family: var(--mono);
}
input::placeholder {
  color: var(--quiet);
}
.sign {
  padding-right: 10px;
  color: var(--quiet);
  font-size: 14px;
  white-space: nowrap;
}
</style>
