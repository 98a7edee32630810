<script setup lang="ts">
import { computed } from 'vue'
import { useEntries } from './entries'
import { useJudging, type JudgingTask } from './judging'

const judging = useJudging()
const entries = useEntries()
const first = computed(() => judging.open[0])
const later = computed(() => judging.open.slice(1, 5))

function to(task: JudgingTask) {
  return { name: 'read', params: { trialId: task.trial_id, look: task.look.id } }
}
function lookWords(task: JudgingTask): string {
  return task.look.after_min > 0 ? `look at ${task.look.name}` : 'look at lifting'
}
</script>

<template>
  <nav class="strip" aria-label="Due now">
    <RouterLink v-if="first" class="now" :to="to(first)">
      <span class="what">Grade {{ first.next_panel }} · {{ first.n_panels_left }} to go</span>
      <span v-if="entries.status === 'kept'" class="where"
        >{{ entries.waiting.length }} grades kept here, not sent yet</span
      >
      <span v-else class="where">{{ first.trial_name }} · {{ lookWords(first) }}</span>
    </RouterLink>
    <div v-else class="now nothing">
      <span class="what">{{ judging.isLoaded ? 'Nothing to grade' : 'Looking…' }}</span>
      <span class="where">{{ judging.trouble || 'Every panel that is yours is graded' }}</span>
    </div>
    <ol class="rule">
      <li v-for="task in later" :key="`${task.trial_id}-${task.look.id}`">
        <RouterLink class="flag" :to="to(task)">
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
  width: 300px;
  padding: 0 18px;
  background: #0b6e63;
  color: #f7f8f5;
  text-decoration: none;
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
  font-size: 19px;
  font-weight: 700;
  line-height: 1.2;
}
.where {
  font-size: 13px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.rule {
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
.rule li {
  flex: 0 0 180px;
  padding: 8px 0 0 39px;
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
    min-height: 60px;
  }
}
</style>
