<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'
import { spanOf } from '@/app/dueWords'
import { quantityOf } from '@/kit/units'
import { ms, type Operation } from './model'

/** What the pass takes, mixed or decanted, from which batch, and how long a mix still lasts. */
const props = defineProps<{
  operation: Operation
  trialId: number
  mixes: readonly Schemas['Mix'][]
  now: number
}>()
const emit = defineEmits<{ mixed: [] }>()
const mix = defineModel<number | null>({ required: true })

const batch = ref<number | null>(props.operation.batches[0]?.id ?? null)
const trouble = ref('')
const isBusy = ref(false)
const cup = computed(() => props.operation.cup)
const isMixed = computed(() => cup.value?.is_mixed ?? false)
const chosen = computed(() => props.mixes.find((each) => each.id === mix.value))
const leftMs = computed(() =>
  chosen.value?.pot_life_min == null
    ? null
    : ms(chosen.value.made_at) + chosen.value.pot_life_min * 60_000 - props.now,
)

async function make(): Promise<void> {
  isBusy.value = true
  try {
    const made = await body(
      api.POST('/api/trials/{trial_id}/days/mixes', {
        params: { path: { trial_id: props.trialId } },
        body: {
          build_up: props.operation.build_up_id ?? 0,
          item: props.operation.item,
          n_panels: props.operation.turns.length,
          work: props.operation.id,
          batch: batch.value,
        },
      }),
    )
    trouble.value = ''
    emit('mixed')
    mix.value = made.id
  } catch (error) {
    trouble.value = wordsOf(error)
  } finally {
    isBusy.value = false
  }
}
</script>

<template>
  <div class="mix">
    <p>
      <span v-for="(amount, index) in operation.amounts" :key="amount.what"
        ><template v-if="index"> + </template>{{ amount.what }}
        <strong class="mono">{{ quantityOf(amount.quantity, amount.amount) }}</strong></span
      >
      <span class="quiet"> for {{ cup?.n_panels ?? operation.turns.length }} panels</span>
    </p>
    <p v-if="cup?.after.length" class="quiet">One mix for this and then {{ cup.after.join('; ') }}.</p>
    <p v-if="cup?.begun_with && !chosen" class="quiet">
      Planned to come from the mix for {{ cup.begun_with }}. Mix so much where that is gone.
    </p>
    <div class="row">
      <template v-if="operation.batches.length">
        <label for="mix-batch">Batch</label>
        <el-select id="mix-batch" v-model="batch" class="batch">
          <el-option v-for="each in operation.batches" :key="each.id" :value="each.id" :label="each.number" />
        </el-select>
      </template>
      <button type="button" class="press" :disabled="isBusy" @click="make">
        {{ chosen ? (isMixed ? 'Mixed anew' : 'Decanted anew') : isMixed ? 'Mixed now' : 'Decanted now' }}
      </button>
      <p v-if="chosen" class="pot" aria-live="off">
        <template v-if="leftMs === null">Decanted{{ chosen.batch ? ` from ${chosen.batch}` : '' }}</template>
        <template v-else-if="leftMs > 0">
          Pot life <strong class="mono" data-pot>{{ spanOf(leftMs) }}</strong> left</template
        >
        <strong v-else class="late">Pot life over for {{ spanOf(-leftMs) }}: mix anew</strong>
      </p>
    </div>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
  </div>
</template>

<style scoped>
.mix {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.batch {
  width: 150px;
}
</style>
