<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, body, wordsOf } from '@/api/client'
import { useOpenTrial } from '@/app/openTrial'
import ReasonForm from '@/kit/ReasonForm.vue'

/** Telling the judges what the panels carry is an act: by whom, when and why; what is read afterwards is marked. */
const emit = defineEmits<{ told: [] }>()
const open = useOpenTrial()
const isAsking = ref(false)
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

async function tell(reason: string): Promise<void> {
  if (!trial.value) return
  try {
    open.summary = await body(
      api.POST('/api/trials/{trial_id}/unblind', {
        params: { path: { trial_id: trial.value.id } },
        body: { reason },
      }),
    )
    trouble.value = ''
    isAsking.value = false
    emit('told')
  } catch (error) {
    trouble.value = wordsOf(error)
  }
}
</script>

<template>
  <section v-if="trial?.started_at" class="unblind" aria-label="Blind">
    <p v-if="told" class="quiet">{{ told }} What was read after that is marked.</p>
    <template v-else>
      <button class="press" :aria-expanded="isAsking" @click="isAsking = !isAsking">
        The judges have been told…
      </button>
      <ReasonForm
        v-if="isAsking"
        id="unblind-reason"
        asks="Why?"
        example="The last look is over"
        does="Write it down: this cannot be undone"
        @give="tell"
        @leave="isAsking = false"
      />
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
</style>
