<script setup lang="ts">
import { watch } from 'vue'
import { useRoute } from 'vue-router'
import StateView from '@/kit/StateView.vue'
import { useOpenTrial } from './openTrial'
import { useSession } from './session'

const route = useRoute()
const session = useSession()
const open = useOpenTrial()

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
  <RouterView v-else :key="open.summary.trial.id" />
</template>
