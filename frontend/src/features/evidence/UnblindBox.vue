<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, body, wordsOf } from '@/api/client'
import { useOpenTrial } from '@/app/openTrial'

/** Telling the judges what the panels carry is an act: by whom, when and why; what is read afterwards is marked. */
const emit = defineEmits<{ told: [] }>()
const open = useOpenTrial()
const isAsking = ref(false)
const reason = ref('')
const trouble = ref('')
const trial = computed(() => open.summary?.trial)
const told = computed(() => {
  const at = trial.value?.unblinded_at
  return at
    ? `${trial.value?.unblinded_by} told the judges what the panels carry on ${new Date(at).toLocaleString('en-GB', {
        day: 'numeric', month: 'long', year: 'numeric', hour: 'numeric', minute: '2-digit',
      })}: ${trial.value?.unblinded_because}`
    : ''
}) // prettier-ignore

async function tell(): Promise<void> {
  if (!trial.value || !reason.value.trim()) return
  try {
    open.summary = await body(
      api.POST('/api/trials/{trial_id}/unblind', {
        params: { path: { trial_id: trial.value.id } },
        body: { reason: reason.value },
      }),
    )
    trouble.value = ''
    isAsking.value = false
    emit('told')
  } catch (error) {
    trouble.value = wordsOf(error)
  }
}
const vFocus = { mounted: (element: HTMLElement) => element.focus() }
</script>

<template>
  <section v-if="trial?.started_at" class="unblind" aria-label="Blind">
    <p v-if="told" class="quiet">{{ told }} What was read after that is marked.</p>
    <template v-else>
      <button class="press" :aria-expanded="isAsking" @click="isAsking = !isAsking">
        The judges have been told…
      </button>
      <form v-if="isAsking" class="row" @submit.prevent="tell">
        <label for="unblind-reason">Why?</label>
        <input
          id="unblind-reason"
          v-model="reason"
          v-focus
          class="box"
          maxlength="2000"
          placeholder="The last look is over"
          @keydown.esc="isAsking = false"
        />
        <button class="press press-main" :disabled="!reason.trim()">
          Write it down: this cannot be undone
        </button>
      </form>
      <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
    </template>
  </section>
</template>

<style scoped>
.unblind {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 8px;
}
.box {
  flex: 1;
  min-width: 240px;
}
</style>
