<script setup lang="ts">
import { ref } from 'vue'
import type { Schemas } from '@/api/client'

/** What becomes of a test that went wrong on a panel: left out, repeated on a spare place, or another panel in its stead. */
const props = defineProps<{
  panel: string
  test: string
  testName: string
  isPlaced: boolean
  trialId: number
  /** What the log shows, as a first reason. */
  says?: string
  decide: (wants: Schemas['SpotWentWrongRequest']) => Promise<string>
}>()
const emit = defineEmits<{ close: [] }>()
const reason = ref(props.says ?? '')
const trouble = ref('')
const isBusy = ref(false)

async function go(what: Schemas['SpotWentWrongRequest']['what']): Promise<void> {
  isBusy.value = true
  trouble.value = await props.decide({ what, panel: props.panel, exposure: props.test, reason: reason.value })
  isBusy.value = false
  if (!trouble.value) emit('close')
}
const vFocus = { mounted: (element: HTMLElement) => element.focus() }
</script>

<template>
  <section class="sheet wrong" aria-labelledby="wrong-title" @keydown.esc="emit('close')">
    <h2 id="wrong-title">{{ testName }} on {{ panel }} went wrong</h2>
    <label for="wrong-reason">What happened?</label>
    <input
      id="wrong-reason"
      v-model="reason"
      v-focus
      class="box"
      maxlength="2000"
      placeholder="The cover slid off over lunch"
    />
    <div class="choices">
      <button class="press" :disabled="isBusy || !reason.trim()" @click="go('leave_out')">
        Leave this spot out
      </button>
      <button
        class="press"
        :disabled="isBusy || !reason.trim() || !isPlaced"
        :title="isPlaced ? '' : 'This test takes all that it stands on'"
        @click="go('repeat')"
      >
        Repeat on a spare spot
      </button>
      <RouterLink
        class="press"
        :to="{ path: `/trials/${trialId}/prepare`, query: { replace: panel }, hash: '#deviations' }"
        >Replace the panel</RouterLink
      >
      <button class="press" @click="emit('close')">Let it count</button>
    </div>
    <p class="quiet">
      What is left out counts for nothing in evidence and ranking, and its readings are kept. Repeated, it is
      done again from its first act; what was read on the old place counts for nothing.
    </p>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
  </section>
</template>

<style scoped>
.wrong {
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 16px 18px;
  border-left: 4px solid var(--due);
}
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
