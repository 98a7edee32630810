<script setup lang="ts">
import { ref } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'
import { useOpenTrial } from '@/app/openTrial'

/** How the trial is exposed and read: where its times are kept, what becomes of a cold block, how judges are asked. */
const emit = defineEmits<{ changed: [] }>()
const open = useOpenTrial()
const trouble = ref('')

async function set(fields: Partial<Schemas['PatchedTrialFieldsRequest']>): Promise<void> {
  const trial = open.summary?.trial
  if (!trial) return
  try {
    open.summary = await body(
      api.PATCH('/api/trials/{trial_id}', { params: { path: { trial_id: trial.id } }, body: fields }),
    )
    trouble.value = ''
    emit('changed')
  } catch (error) {
    trouble.value = wordsOf(error)
  }
}
</script>

<template>
  <details v-if="open.summary" class="sheet ways">
    <summary>How it is exposed and read</summary>
    <label class="line">
      <input
        type="checkbox"
        :checked="open.summary.trial.times_on_paper"
        @change="set({ times_on_paper: ($event.target as HTMLInputElement).checked })"
      />
      <span
        ><b>Times on paper.</b> The acts are not logged here: all looks are open at once, and the evidence
        says that nothing shows when they were made.</span
      >
    </label>
    <label class="line">
      <input
        type="checkbox"
        :checked="open.summary.trial.block_check === 'refuse'"
        @change="set({ block_check: ($event.target as HTMLInputElement).checked ? 'refuse' : 'flag' })"
      />
      <span
        ><b>Refuse a block that is off.</b> More than 2 °C from its temperature at contact it is not laid;
        otherwise it is laid and stands as a deviation.</span
      >
    </label>
    <label class="line">
      <input
        type="checkbox"
        :checked="open.summary.trial.grade_school === 'words'"
        @change="set({ grade_school: ($event.target as HTMLInputElement).checked ? 'words' : 'numbers' })"
      />
      <span
        ><b>Grades in bench words.</b> Judges say clean, faint, marked or damaged; these stand as 5, 4, 2.5
        and 1.</span
      >
    </label>
    <label class="line">
      <input
        type="checkbox"
        :checked="open.summary.trial.blind_repeats"
        @change="set({ blind_repeats: ($event.target as HTMLInputElement).checked })"
      />
      <span
        ><b>Some spots come round again.</b> About one spot in ten, unannounced, so that each judge’s
        repeatability is known; never in a tiny trial.</span
      >
    </label>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
  </details>
</template>

<style scoped>
.ways {
  padding: 4px 16px;
}
summary {
  min-height: 44px;
  line-height: 44px;
  font-weight: 700;
  cursor: pointer;
}
.line {
  display: flex;
  align-items: flex-start;
  gap: 10px;
  min-height: 44px;
  padding: 6px 0;
}
.line input {
  margin-top: 4px;
}
</style>
