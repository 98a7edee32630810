<script setup lang="ts">
import { ref } from 'vue'
import { api, body, wordsOf } from '@/api/client'
import QuantityInput from '@/kit/QuantityInput.vue'

/** Numbers that an instrument gives or a person types. What the instrument could not say is told; typing goes on. */
const props = defineProps<{
  id: string
  instrument: 'balance' | 'climate' | 'block'
  fields: readonly { name: string; label: string; quantity: string; from: string }[]
  /** Whether the shop has set one up. */
  isThere: boolean
}>()
const emit = defineEmits<{ read: []; typed: [] }>()
const model = defineModel<Record<string, number | null>>({ required: true })

const trouble = ref('')
const isBusy = ref(false)

async function read(): Promise<void> {
  isBusy.value = true
  try {
    const found = await body(
      api.POST('/api/instruments/{kind}/reading', { params: { path: { kind: props.instrument } } }),
    )
    model.value = {
      ...model.value,
      ...Object.fromEntries(props.fields.map((field) => [field.name, found.values[field.from] ?? null])),
    }
    trouble.value = ''
    emit('read')
  } catch (error) {
    trouble.value = wordsOf(error)
  } finally {
    isBusy.value = false
  }
}
function typed(name: string, value: number | null): void {
  model.value = { ...model.value, [name]: value }
}
</script>

<template>
  <div class="reading">
    <span v-for="field in fields" :key="field.name" class="one">
      <label :for="`${id}-${field.name}`">{{ field.label }}</label>
      <QuantityInput
        :id="`${id}-${field.name}`"
        :model-value="model[field.name] ?? null"
        :quantity="field.quantity"
        @update:model-value="(value) => typed(field.name, value ?? null)"
        @keydown.enter.prevent="emit('typed')"
        @change="emit('typed')"
      />
    </span>
    <button
      v-if="isThere"
      type="button"
      class="press"
      :disabled="isBusy"
      :aria-label="`Read the ${instrument}`"
      @click="read"
    >
      {{ isBusy ? 'Reading…' : 'Read' }}
    </button>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
  </div>
</template>

<style scoped>
.reading {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 12px;
}
.one {
  display: flex;
  align-items: center;
  gap: 8px;
}
.one :deep(.quantity) {
  width: 104px;
}
.reading p {
  flex-basis: 100%;
}
</style>
