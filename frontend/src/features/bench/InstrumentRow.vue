<script setup lang="ts">
import { ref } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'

/** One instrument's address, and whether it answers there. */
const props = defineProps<{
  kind: Schemas['InstrumentKindEnum']
  name: string
  saved: string
  disabled: boolean
}>()
const address = defineModel<string>({ required: true })

const said = ref('')
const isFaulty = ref(false)
const isBusy = ref(false)

async function tryIt(): Promise<void> {
  isBusy.value = true
  try {
    const found = await body(
      api.POST('/api/instruments/{kind}/reading', { params: { path: { kind: props.kind } } }),
    )
    const values = Object.entries(found.values).map(([name, value]) => `${name} ${value}`)
    said.value = `It answers: ${found.code || values.join(', ')}`
    isFaulty.value = false
  } catch (error) {
    said.value = wordsOf(error)
    isFaulty.value = true
  } finally {
    isBusy.value = false
  }
}
</script>

<template>
  <div class="instrument">
    <label :for="`address-${kind}`">{{ name[0]?.toUpperCase() }}{{ name.slice(1) }}</label>
    <input
      :id="`address-${kind}`"
      v-model="address"
      class="box mono"
      maxlength="120"
      :disabled="disabled"
      placeholder="none"
    />
    <button type="button" class="press" :disabled="isBusy || !saved || address !== saved" @click="tryIt">
      {{ isBusy ? 'Asking…' : 'Try it' }}
    </button>
    <p v-if="said" :class="isFaulty ? 'late' : 'quiet'" role="status">{{ said }}</p>
  </div>
</template>

<style scoped>
.instrument {
  display: grid;
  grid-template-columns: 170px 260px auto;
  gap: 6px 12px;
  align-items: center;
}
.instrument .press {
  justify-self: start;
}
.instrument p {
  grid-column: 2 / -1;
}
@media (max-width: 760px) {
  .instrument {
    grid-template-columns: minmax(0, 1fr);
  }
  .instrument p {
    grid-column: 1;
  }
}
</style>
