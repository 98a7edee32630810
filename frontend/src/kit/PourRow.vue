<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'
import { clockOf } from './clock'

/** The brew, bottle or heating that a sitting's spots share: written down once, and named with each that is laid from it. */
const props = defineProps<{
  /** The test that it is poured for. */
  item: string
  trialId: number
  pours: readonly Schemas['Pour'][]
  zone: string
}>()
const emit = defineEmits<{ poured: [] }>()
const pour = defineModel<number | null>({ required: true })

const batch = ref('')
const trouble = ref('')
const isBusy = ref(false)
const chosen = computed(() => props.pours.find((each) => each.id === pour.value))

function wordsFor(each: Schemas['Pour']): string {
  return `${each.batch ? `${each.batch}, ` : ''}made ${clockOf(each.made_at, props.zone)} by ${each.made_by.split(' ')[0]}`
}

async function make(): Promise<void> {
  isBusy.value = true
  try {
    const made = await body(
      api.POST('/api/trials/{trial_id}/days/pours', {
        params: { path: { trial_id: props.trialId } },
        body: { item: props.item, batch: batch.value },
      }),
    )
    trouble.value = ''
    batch.value = ''
    emit('poured')
    pour.value = made.id
  } catch (error) {
    trouble.value = wordsOf(error)
  } finally {
    isBusy.value = false
  }
}
</script>

<template>
  <form class="pour" @submit.prevent="make">
    <p v-if="chosen">
      From <strong>{{ wordsFor(chosen) }}</strong>
    </p>
    <p v-else class="quiet">
      No pour is written down yet: brew, open or heat it once for all that are laid in this sitting.
    </p>
    <div class="row">
      <label for="pour-batch">{{ chosen ? 'Another' : 'Pour' }}</label>
      <input
        id="pour-batch"
        v-model="batch"
        class="box"
        maxlength="80"
        placeholder="bottle 2, or pot of 9:40"
      />
      <button class="press" :disabled="isBusy">{{ chosen ? 'Made anew' : 'Made now' }}</button>
    </div>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
  </form>
</template>

<style scoped>
.pour {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.box {
  flex: 1;
  min-width: 140px;
}
</style>
