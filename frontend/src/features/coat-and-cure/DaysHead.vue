<script setup lang="ts">
import { api, body } from '@/api/client'
import PaperProgress from '@/app/PaperProgress.vue'
import { keptPaper, usePaper } from '@/app/papers'

/** Which day it is, how the plan stands, and what of it can be taken along. */
const props = defineProps<{
  trialId: number
  title: string
  says: string
  saved: string
  isKept: boolean
  isPlanned: boolean
  isBusy: boolean
  /** The one day that shows and has work, to be printed. */
  date: string | null
}>()
defineEmits<{ again: [] }>()

const paper = usePaper()
const printDay = (date: string): Promise<void> =>
  paper.make(() =>
    body(
      api.POST('/api/trials/{trial_id}/days/sheet', {
        params: { path: { trial_id: props.trialId } },
        body: { day: date, paper: keptPaper().value },
      }),
    ),
  )
</script>

<template>
  <header class="page-head">
    <div>
      <h1>{{ title }}</h1>
      <p v-if="isPlanned" class="quiet">
        {{ says }} · <span role="status" :class="{ caution: isKept }">{{ saved }}</span>
      </p>
    </div>
    <div v-if="isPlanned" class="row">
      <button class="press" :disabled="isBusy" @click="$emit('again')">Plan again from now</button>
      <a class="press" :href="`/api/trials/${trialId}/days/calendar.ics`" download>Calendar</a>
      <button v-if="date" class="press" :disabled="paper.isAsking.value" @click="printDay(date)">
        Day sheet
      </button>
    </div>
  </header>
  <PaperProgress
    :job="paper.job.value"
    :is-asking="paper.isAsking.value"
    :trouble="paper.trouble.value"
    @stop="paper.stop"
  />
</template>
