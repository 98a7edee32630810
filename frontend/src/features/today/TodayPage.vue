<script setup lang="ts">
import { computed } from 'vue'
import { useDue } from '@/app/due'
import { codesOf } from '@/app/dueWords'
import { useJudging, type JudgingTask } from '@/app/judging'
import { useSession } from '@/app/session'
import { lookWords } from '@/kit/looks'
import StateView from '@/kit/StateView.vue'

const session = useSession()
const judging = useJudging()
const due = useDue()
const atBench = computed(() => due.shown.slice(0, 8))
const done = computed(() => judging.tasks.filter((task) => task.n_panels_left === 0))
const firstName = computed(() => session.person?.display_name.split(' ')[0] ?? '')

function toRead(task: JudgingTask) {
  return {
    name: 'read',
    params: { trialId: task.trial_id, look: task.look.id },
    query: task.by === 'hands' ? { by: 'hands' } : {},
  }
}
function capital(words: string): string {
  return words.slice(0, 1).toUpperCase() + words.slice(1)
}
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>Today</h1>
        <p class="quiet">
          {{ session.person?.shop }} · {{ firstName }}’s panels to grade, in {{ firstName }}’s own order
        </p>
      </div>
      <RouterLink v-if="session.person?.keeps_key" class="press" to="/trials">All trials</RouterLink>
    </header>

    <section v-if="atBench.length" aria-labelledby="at-bench">
      <h2 id="at-bench">At the bench</h2>
      <ul class="bench">
        <li v-for="each in atBench" :key="each.key" class="sheet">
          <RouterLink
            :to="{
              path: `/trials/${each.thing.trial_id}/coat-and-cure`,
              query: each.thing.operation_id ? { work: each.thing.operation_id } : {},
            }"
          >
            <span class="mono left" :class="{ late: each.state === 'late' }">{{ each.left }}</span>
            <strong>{{ each.thing.verb }}</strong>
            <span class="mono">{{ codesOf(each.thing.panels, 8) }}</span>
            <span class="quiet">{{ each.thing.trial_name }}</span>
          </RouterLink>
        </li>
      </ul>
    </section>
    <h2 v-if="atBench.length">To grade</h2>

    <StateView v-if="judging.trouble" kind="trouble" title="The list cannot be shown" :says="judging.trouble">
      <button class="press press-main" @click="judging.load()">Try again</button>
    </StateView>
    <StateView v-else-if="!judging.isLoaded" kind="busy" title="Looking for what is yours…" />
    <StateView
      v-else-if="judging.open.length === 0"
      title="Nothing to grade"
      :says="
        judging.tasks.length
          ? 'Every panel that is yours has been graded at every look.'
          : 'No trial of yours has panels yet. Panels appear here once a design has been drawn.'
      "
    >
      <RouterLink v-if="session.person?.keeps_key" class="press press-main" to="/trials"
        >Open the trials</RouterLink
      >
    </StateView>

    <ul class="tasks">
      <li
        v-for="task in judging.open"
        :key="`${task.trial_id}-${task.look.id}-${task.by}`"
        class="sheet task"
      >
        <div class="words">
          <h2>{{ task.trial_name }}</h2>
          <p>{{ capital(lookWords(task.look.name)) }}{{ task.by === 'hands' ? ', measured by hand' : '' }}</p>
          <p v-if="task.is_simulated" class="quiet">Demo: the readings so far are simulated</p>
        </div>
        <div class="count">
          <strong class="mono">{{ task.n_panels_left }}</strong> of {{ task.n_panels }} panels to go
          <div class="track" aria-hidden="true">
            <span :style="{ width: `${(100 * task.n_read) / Math.max(task.n_values, 1)}%` }" />
          </div>
        </div>
        <RouterLink class="press press-main" :to="toRead(task)"
          >{{ task.by === 'hands' ? 'Measure' : 'Grade' }} {{ task.next_panel }}</RouterLink
        >
      </li>
    </ul>

    <section v-if="done.length">
      <h2>Graded</h2>
      <ul class="done">
        <li v-for="task in done" :key="`${task.trial_id}-${task.look.id}-${task.by}`">
          <RouterLink :to="toRead(task)"
            >{{ task.trial_name }}, {{ task.look.name.toLowerCase() }}</RouterLink
          >
          <span class="quiet"> · {{ task.n_panels }} panels, {{ task.n_read }} readings</span>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.bench {
  display: flex;
  flex-direction: column;
  gap: 6px;
  margin: 8px 0 0;
  padding: 0;
  list-style: none;
}
.bench a {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 16px;
  min-height: 52px;
  padding: 6px 16px;
  color: inherit;
  text-decoration: none;
}
.bench .left {
  min-width: 110px;
  font-size: 17px;
  font-weight: 700;
}
.tasks,
.done {
  display: flex;
  flex-direction: column;
  gap: 12px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.done {
  gap: 0;
  margin-top: 8px;
}
.done li {
  display: flex;
  align-items: center;
  gap: 4px;
  min-height: 40px;
}
.task {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 16px 32px;
  padding: 18px 20px;
}
.words {
  flex: 1 1 260px;
}
.count {
  flex: 0 1 240px;
}
.count strong {
  font-size: 22px;
}
.track {
  height: 6px;
  margin-top: 6px;
  background: var(--hairline);
}
.track span {
  display: block;
  height: 100%;
  background: var(--accent);
}
</style>
