<script setup lang="ts">
import { computed } from 'vue'
import { useDue } from '@/app/due'
import { codesOf, spanOf, toRead } from '@/app/dueWords'
import { useJudging, type JudgingTask } from '@/app/judging'
import { now } from '@/app/serverClock'
import { useSession } from '@/app/session'
import { lookWords } from '@/kit/looks'
import StateView from '@/kit/StateView.vue'

const session = useSession()
const judging = useJudging()
const due = useDue()
const atBench = computed(() => due.shown.filter((each) => each.thing.kind !== 'look').slice(0, 8))
const done = computed(() => judging.tasks.filter((task) => task.n_panels > 0 && task.n_panels_left === 0))
/** The looks that open next, each panel by itself. */
const coming = computed(() =>
  due.shown.filter((each) => each.thing.kind === 'look' && each.state === 'coming').slice(0, 12),
)
/** By when the first of a look's panels should be read. */
function until(task: JudgingTask): string {
  if (!task.closes_at) return ''
  const left = Date.parse(task.closes_at) - now.value
  return left < 0 ? `${spanOf(-left)} late` : `${spanOf(left)} left`
}
const firstName = computed(() => session.person?.display_name.split(' ')[0] ?? '')

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
          <RouterLink :to="each.to">
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
          : 'Nothing of yours has been lifted yet. Panels appear here when what is read on them has happened.'
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
          <span v-if="until(task)" class="mono">· {{ until(task) }}</span>
          <div class="track" aria-hidden="true">
            <span :style="{ width: `${(100 * task.n_read) / Math.max(task.n_values, 1)}%` }" />
          </div>
        </div>
        <RouterLink class="press press-main" :to="toRead(task)"
          >{{ task.by === 'hands' ? 'Measure' : 'Grade' }} {{ task.next_panel }}</RouterLink
        >
      </li>
    </ul>

    <section v-if="coming.length" aria-labelledby="coming">
      <h2 id="coming">Looks to come</h2>
      <ul class="coming">
        <li v-for="each in coming" :key="each.key">
          <span class="mono left">{{ each.left }}</span> <b class="mono">{{ each.thing.panels[0] }}</b>
          <span class="quiet">{{ each.thing.verb }} · {{ each.thing.trial_name }}</span>
        </li>
      </ul>
      <p><a class="press" href="/api/judging/calendar.ics" download>Looks as a calendar</a></p>
    </section>

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
.coming {
  display: flex;
  flex-direction: column;
  margin: 8px 0 12px;
  padding: 0;
  list-style: none;
}
.coming li {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 16px;
  min-height: 32px;
}
.coming .left {
  min-width: 110px;
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
