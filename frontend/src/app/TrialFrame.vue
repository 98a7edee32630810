<script setup lang="ts">
import { computed, watch } from 'vue'
import { useRoute } from 'vue-router'
import StateView from '@/kit/StateView.vue'
import { useOpenTrial } from './openTrial'
import { useSession } from './session'

const route = useRoute()
const session = useSession()
const open = useOpenTrial()
/** What a started trial is held to, on each of its pages. */
const record = computed(() => {
  const summary = open.summary
  if (!summary?.trial.started_at) return null
  const n = summary.n_deviations
  return {
    on: new Date(summary.trial.started_at).toLocaleDateString('en-GB', {
      day: 'numeric',
      month: 'short',
      year: 'numeric',
    }),
    fingerprint: summary.trial.fingerprint ?? '',
    deviations: n === 0 ? 'no deviations' : n === 1 ? '1 deviation' : `${n} deviations`,
  }
})

function load(): void {
  if (session.person?.keeps_key) void open.load(Number(route.params.trialId))
}
watch(() => [route.params.trialId, session.person?.id], load, { immediate: true })
</script>

<template>
  <div v-if="!open.summary" class="page">
    <StateView v-if="open.trouble" kind="trouble" title="This trial cannot be shown" :says="open.trouble">
      <button class="press press-main" @click="load">Try again</button>
      <RouterLink class="press" to="/trials">All trials</RouterLink>
    </StateView>
    <StateView v-else kind="busy" title="Opening the trial…" />
  </div>
  <template v-else>
    <p class="record">
      <b class="name">{{ open.summary.trial.name }}</b>
      <template v-if="record">
        · started {{ record.on }} · sealed as
        <span class="mono" :title="`Fingerprint of the record, SHA-256: ${record.fingerprint}`">{{
          record.fingerprint.slice(0, 12)
        }}</span>
        ·
        <RouterLink :to="`/trials/${open.summary.trial.id}/prepare#deviations`">{{
          record.deviations
        }}</RouterLink>
      </template>
      <template v-else> · not started</template>
    </p>
    <RouterView :key="open.summary.trial.id" />
  </template>
</template>

<style scoped>
.name {
  color: var(--ink);
}
.record {
  padding: 8px 26px 0;
  color: var(--quiet);
  font-size: 14px;
}
</style>
