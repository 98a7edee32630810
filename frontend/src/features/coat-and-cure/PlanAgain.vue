<script setup lang="ts">
import { ref } from 'vue'
import type { Schemas } from '@/api/client'
import TrialsBeside from './TrialsBeside.vue'

/** Planning again from now, alone or with other trials of the shop. */
const props = defineProps<{ trials: readonly Schemas['TrialBeside'][]; isBusy: boolean }>()
defineEmits<{ plan: [together: number[]]; leave: [] }>()

const chosen = ref(props.trials.filter((each) => each.is_companion).map((each) => each.trial_id))
</script>

<template>
  <form class="sheet again" aria-label="Plan again from now" @submit.prevent="$emit('plan', chosen)">
    <TrialsBeside v-model="chosen" :trials="trials" />
    <div class="row">
      <button class="press press-main" :disabled="isBusy">
        {{ chosen.length ? `Plan ${chosen.length + 1} trials from now` : 'Plan this one from now' }}
      </button>
      <button type="button" class="press" @click="$emit('leave')">Leave it as it is</button>
    </div>
  </form>
</template>

<style scoped>
.again {
  display: flex;
  flex-direction: column;
  gap: 14px;
  padding: 14px 18px;
}
</style>
