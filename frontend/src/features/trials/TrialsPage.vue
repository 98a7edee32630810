<script setup lang="ts">
import { api, body } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import StateView from '@/kit/StateView.vue'

const { data: trials, trouble, load } = useLoaded(() => body(api.GET('/api/trials')))
</script>

<template>
  <div class="page">
    <header class="page-head">
      <h1>Trials</h1>
      <RouterLink class="press press-main" to="/trials/new">New trial</RouterLink>
    </header>
    <StateView v-if="trouble" kind="trouble" title="The trials cannot be listed" :says="trouble">
      <button class="press press-main" @click="load">Try again</button>
    </StateView>
    <StateView v-else-if="!trials" kind="busy" title="Fetching the trials…" />
    <StateView
      v-else-if="trials.length === 0"
      title="No trial yet"
      says="A trial begins with a question: which finish, on this wood, for this use?"
    >
      <RouterLink class="press press-main" to="/trials/new">Ask a question</RouterLink>
    </StateView>
    <div v-else class="sheet list">
      <RouterLink v-for="item in trials" :key="item.id" class="trial" :to="`/trials/${item.id}/question`">
        <span class="words">
          <strong>{{ item.name }}</strong>
          <span class="quiet ask">{{ item.question || 'No question written down' }}</span>
        </span>
        <span class="facts">
          <span>{{ item.n_build_ups }} build-ups and a control</span>
          <span class="quiet">{{ item.n_panels ? `${item.n_panels} panels` : 'no panels yet' }}</span>
        </span>
        <span class="facts">
          <span v-if="item.n_panels && !item.started_at">Next: prepare and start</span>
          <span v-else-if="item.n_panels"
            ><b class="mono">{{ item.n_graded }}</b> of {{ item.n_expected }} graded</span
          >
          <span v-else>Next: {{ item.n_build_ups ? 'draw the design' : 'add build-ups' }}</span>
          <span v-if="item.is_simulated" class="caution">Simulated</span>
        </span>
      </RouterLink>
    </div>
  </div>
</template>

<style scoped>
.trial {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 1fr) minmax(0, 1fr);
  gap: 24px;
  padding: 16px 20px;
  border-bottom: 1px solid var(--hairline);
  color: var(--ink);
  text-decoration: none;
}
.trial:last-child {
  border-bottom: 0;
}
.trial:hover {
  background: var(--ground);
}
.words,
.facts {
  display: flex;
  flex-direction: column;
}
.words strong {
  font-size: 17px;
}
.ask {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
@media (max-width: 900px) {
  .trial {
    grid-template-columns: minmax(0, 1fr);
    gap: 6px;
  }
}
</style>
