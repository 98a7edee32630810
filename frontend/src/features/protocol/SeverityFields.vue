<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import QuantityInput from '@/kit/QuantityInput.vue'
import { mainAct, type Change, type Test } from './model'

/** How long, how hot, how often, how much of what, and what it is called. */
const props = defineProps<{ test: Test; isFixed: boolean }>()
const emit = defineEmits<{
  severity: [change: Partial<Change>]
  amount: [words: string]
  names: [name: string, shortName: string]
}>()

const act = computed(() => mainAct(props.test))
const lasts = ref<number | null>(null)
const degrees = ref<number | null>(null)
const times = ref<number | null>(null)
const amount = ref('')
const name = ref('')
const shortName = ref('')
watch(
  () => props.test,
  (now) => {
    lasts.value = act.value?.lasts_min ?? null
    degrees.value = act.value?.temperature_c ?? null
    times.value = act.value?.cycles || act.value?.strokes || null
    amount.value = act.value?.amount ?? ''
    name.value = now.name
    shortName.value = now.short_name
  },
  { immediate: true },
)
const isTimed = computed(() => (act.value?.lasts_min ?? 0) > 0)
const isCounted = computed(() => Boolean(act.value?.cycles || act.value?.strokes))

function severity(): void {
  const now = act.value
  if (!now) return
  const change: Partial<Change> = {}
  if (isTimed.value && lasts.value != null && lasts.value !== now.lasts_min) change.lasts_min = lasts.value
  if (now.temperature_c != null && degrees.value != null && degrees.value !== now.temperature_c)
    change.temperature_c = degrees.value
  if (isCounted.value && times.value && times.value !== (now.cycles || now.strokes))
    change.times = times.value
  if (Object.keys(change).length) emit('severity', change)
}
function keepAmount(): void {
  if (amount.value !== (act.value?.amount ?? '')) emit('amount', amount.value)
}
function keepNames(): void {
  if (name.value !== props.test.name || shortName.value !== props.test.short_name)
    emit('names', name.value, shortName.value)
}
</script>

<template>
  <form class="fields" @submit.prevent="severity">
    <div v-if="isTimed" class="field">
      <label for="test-lasts">How long</label>
      <QuantityInput
        id="test-lasts"
        v-model="lasts"
        quantity="minutes"
        :disabled="isFixed"
        @change="severity"
      />
    </div>
    <div v-if="act?.temperature_c != null" class="field">
      <label for="test-degrees">How hot</label>
      <QuantityInput
        id="test-degrees"
        v-model="degrees"
        quantity="celsius"
        :disabled="isFixed"
        @change="severity"
      />
    </div>
    <div v-if="isCounted" class="field">
      <label for="test-times">How often</label>
      <QuantityInput
        id="test-times"
        v-model="times"
        quantity="count"
        :disabled="isFixed"
        @change="severity"
      />
    </div>
    <div class="field wide">
      <label for="test-name">Name</label>
      <el-input id="test-name" v-model="name" maxlength="120" :disabled="isFixed" @change="keepNames" />
    </div>
    <div class="field">
      <label for="test-short">On the drawing</label>
      <el-input id="test-short" v-model="shortName" maxlength="30" :disabled="isFixed" @change="keepNames" />
    </div>
    <div v-if="act?.agent" class="field wide">
      <label for="test-amount">Amount, and with what</label>
      <el-input id="test-amount" v-model="amount" maxlength="400" :disabled="isFixed" @change="keepAmount" />
    </div>
  </form>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 10px;
}
.wide {
  grid-column: span 2;
}
</style>
