<script setup lang="ts">
import { computed } from 'vue'
import { lookWords as lookWordsOf } from '@/kit/looks'
import { useDue } from './due'
import { toRead, verbOf } from './dueWords'
import { useEntries } from './entries'
import { useJudging, type JudgingTask } from './judging'
import { now } from './serverClock'
import { useWorkEntries } from './workEntries'

const judging = useJudging()
const entries = useEntries()
const work = useWorkEntries()
const due = useDue()
const HOUR_MS = 3_600_000
/** Flags closer than this, as a share of the hour, would write over each other: the later one is a mark alone. */
const ROOM = 0.19

const firstTask = computed(() => judging.open[0])
const tasks = computed(() => (due.first ? judging.open : judging.open.slice(1)).slice(0, 4))
const flags = computed(() => {
  let last = -1
  return due.flags.map((shown) => {
    const place = (shown.moment - now.value) / HOUR_MS
    const isWorded = last < 0 || place - last >= ROOM
    if (isWorded) last = place
    return { shown, place, isWorded: isWorded && place < 0.88 }
  })
})
const kept = computed(() => {
  const n = work.status === 'kept' ? work.waiting.length : 0
  if (n) return `${n} ${n === 1 ? 'entry' : 'entries'} kept here, not sent yet`
  const grades = entries.status === 'kept' ? entries.waiting.length : 0
  return grades ? `${grades} grades kept here, not sent yet` : ''
})

function lookWords(task: JudgingTask): string {
  return lookWordsOf(task.look.name)
}
</script>

<template>
  <nav class="strip" aria-label="Due now">
    <RouterLink v-if="due.first" class="now" :class="due.first.state" :to="due.first.to">
      <span class="what"
        >{{ due.first.what }} · <span class="left" data-timer>{{ due.first.left }}</span></span
      >
      <span class="where">{{ kept || `${due.first.thing.verb} · ${due.first.thing.trial_name}` }}</span>
    </RouterLink>
    <RouterLink v-else-if="firstTask" class="now" :to="toRead(firstTask)">
      <span class="what">Grade {{ firstTask.next_panel }} · {{ firstTask.n_panels_left }} to go</span>
      <span class="where">{{ kept || `${firstTask.trial_name} · ${lookWords(firstTask)}` }}</span>
    </RouterLink>
    <div v-else class="now nothing">
      <span class="what">{{ judging.isLoaded ? 'Nothing due' : 'Looking…' }}</span>
      <span class="where">{{ judging.trouble || kept || 'Every panel that is yours is graded' }}</span>
    </div>
    <ol v-if="flags.length" class="rule hour" aria-label="Due within the hour">
      <li v-for="minutes in [15, 30, 45]" :key="minutes" class="mark" :style="{ left: `${minutes / 0.6}%` }">
        <span class="mono">{{ minutes }} min</span>
      </li>
      <li
        v-for="{ shown, place, isWorded } in flags"
        :key="shown.key"
        class="due"
        :class="shown.state"
        :style="{ left: `${100 * place}%` }"
      >
        <RouterLink v-if="isWorded" class="flag" :to="shown.to">
          <strong>{{ verbOf(shown.thing.kind) }}</strong>
          <span class="mono">{{ shown.thing.panels.slice(0, 3).join(' ') }}</span>
          <span class="sr">{{ shown.left }}</span>
        </RouterLink>
        <span v-else class="flag"
          ><span class="sr">{{ shown.what }}, {{ shown.left }}</span></span
        >
      </li>
    </ol>
    <ol v-else class="rule">
      <li v-for="task in tasks" :key="`${task.trial_id}-${task.look.id}`" class="task">
        <RouterLink class="flag" :to="toRead(task)">
          <strong>Grade {{ task.n_panels_left }}</strong>
          <span class="mono">{{ task.trial_name }}</span>
          <span class="mono">{{ lookWords(task) }}</span>
        </RouterLink>
      </li>
    </ol>
  </nav>
</template>

<style scoped>
.strip {
  display: flex;
  flex: 1;
  min-width: 0;
}
.now {
  display: flex;
  flex-direction: column;
  justify-content: center;
  flex: none;
  width: 320px;
  padding: 0 18px;
  background: #0b6e63;
  color: #f7f8f5;
  text-decoration: none;
}
.now.coming {
  background: #35433e;
}
.now.late {
  background: #b3261e;
}
.now.nothing {
  background: transparent;
  color: var(--bench-quiet);
}
.now:focus-visible,
.flag:focus-visible {
  outline-color: var(--due);
  outline-offset: -4px;
}
.what {
  overflow: hidden;
  font-size: 19px;
  font-weight: 700;
  line-height: 1.2;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.left {
  font-variant-numeric: tabular-nums;
}
.where {
  font-size: 13px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.rule {
  position: relative;
  display: flex;
  flex: 1;
  min-width: 0;
  margin: 0;
  padding: 0;
  overflow: hidden;
  list-style: none;
  /* A steel rule: a short tick every 12 px, a long one every 60. */
  background:
    repeating-linear-gradient(90deg, var(--line) 0 1px, transparent 1px 60px) left bottom / 100% 11px
      no-repeat,
    repeating-linear-gradient(90deg, var(--line) 0 1px, transparent 1px 12px) left bottom / 100% 6px no-repeat;
}
.rule.hour {
  /* The hour to come: a tick every minute, a long one every five. */
  background:
    repeating-linear-gradient(90deg, var(--line) 0 1px, transparent 1px calc(100% / 12)) left bottom / 100%
      11px no-repeat,
    repeating-linear-gradient(90deg, var(--line) 0 1px, transparent 1px calc(100% / 60)) left bottom / 100%
      6px no-repeat;
}
.task {
  flex: 0 0 180px;
  padding: 8px 0 0 39px;
}
.mark,
.due {
  position: absolute;
  top: 0;
  bottom: 0;
}
.mark {
  padding: 32px 0 0 4px;
  color: var(--bench-quiet);
  font-size: 11px;
  pointer-events: none;
}
.flag {
  display: flex;
  flex-direction: column;
  height: 100%;
  padding-left: 6px;
  border-left: 2px solid var(--due);
  color: var(--bench-quiet);
  font-size: 12px;
  line-height: 1.25;
  text-decoration: none;
  white-space: nowrap;
}
.due .flag {
  padding-top: 2px;
}
/* One without room for words is a short mark on the rule, so that it crosses nobody else's. */
span.flag {
  position: absolute;
  bottom: 0;
  height: 20px;
}
.flag strong {
  color: var(--due);
  font-size: 13px;
}
@media (max-width: 560px) {
  .rule {
    display: none;
  }
  .now {
    flex: 1;
    width: auto;
    /* A long list of panels ends in an ellipsis, not outside the page. */
    min-width: 0;
    min-height: 60px;
  }
}
</style>
