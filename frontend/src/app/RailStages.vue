<script setup lang="ts">
import { computed, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useJudging } from './judging'
import { useOpenTrial } from './openTrial'
import { useSession } from './session'
import { STAGES, STATE_WORDS, type StageState } from './stages'

/** The stages of the open trial in working order, each with how far it is. */
const props = defineProps<{ trialId: number }>()

const route = useRoute()
const session = useSession()
const open = useOpenTrial()
const judging = useJudging()
const keeps = computed(() => session.person?.keeps_key ?? false)
const stages = computed(() => (keeps.value ? STAGES : STAGES.filter((stage) => stage.id === 'read')))
/** A stage's own page, or one that belongs to it. */
const here = computed(() => route.meta.stage ?? route.name)

// Grading has no frame of the trial round it, and the rail shows its stages all the same.
watch(
  [() => props.trialId, keeps, here],
  ([id, isKeeper, page]) => {
    if (isKeeper && page === 'read') void open.load(id)
  },
  { immediate: true },
)

/** A judge knows of one stage: how far their own grading is. */
function ownReading(): StageState {
  const own = judging.tasks.filter((task) => task.trial_id === props.trialId)
  const graded = own.reduce((sum, task) => sum + task.n_read, 0)
  const spots = own.reduce((sum, task) => sum + task.n_values, 0)
  return graded === 0 ? 'empty' : graded < spots ? 'under_way' : 'done'
}

function stateOf(id: string): StageState {
  if (!keeps.value) return ownReading()
  const states = open.summary?.trial.id === props.trialId ? open.summary?.stages : undefined
  return states?.[id.replaceAll('-', '_') as keyof typeof states] ?? 'empty'
}
</script>

<template>
  <nav aria-label="Stages of the trial" class="stages">
    <template v-for="stage in stages" :key="stage.id">
      <RouterLink
        v-if="stage.page"
        class="stage"
        :to="`/trials/${trialId}/${stage.id}`"
        :class="{ here: here === stage.id }"
        :aria-current="here === stage.id ? 'page' : undefined"
      >
        <svg class="sign" viewBox="0 0 16 16" aria-hidden="true">
          <path v-if="here === stage.id" d="M0 1 L16 8 L0 15 Z" class="solid" />
          <template v-else>
            <circle cx="8" cy="8" r="4.5" class="ring" :class="stateOf(stage.id)" />
            <path v-if="stateOf(stage.id) === 'under_way'" d="M8 3.5 a4.5 4.5 0 0 1 0 9 Z" class="half" />
            <path
              v-if="stateOf(stage.id) === 'attention'"
              d="M8 3.5 a4.5 4.5 0 0 1 0 9 Z"
              class="half amber"
            />
          </template>
        </svg>
        <span>{{ stage.name }}</span>
        <span class="sr">, {{ STATE_WORDS[stateOf(stage.id)] }}</span>
      </RouterLink>
      <span v-else class="stage by-hand">
        <span>{{ stage.name }}</span>
        <small>by hand</small>
      </span>
    </template>
  </nav>
</template>

<style scoped>
.stages {
  padding: 6px 0;
  /* The steel rule: a fine tick every 6 px along the edge. */
  background: repeating-linear-gradient(180deg, var(--line) 0 1px, transparent 1px 6px) left top / 9px 100%
    no-repeat;
}
.stage {
  position: relative;
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 44px;
  padding: 0 8px 0 30px;
  color: var(--ink);
  text-decoration: none;
}
.stage::before {
  content: '';
  position: absolute;
  left: 0;
  top: 50%;
  width: 22px;
  border-top: 1px solid var(--line);
}
.stage.here {
  background: var(--paper);
  font-weight: 700;
}
.by-hand {
  min-height: 30px;
  padding-left: 56px;
  color: var(--quiet);
  font-size: 13px;
  white-space: nowrap;
  justify-content: space-between;
}
.by-hand::before {
  width: 14px;
}
.by-hand small {
  font-size: 12px;
}
.sign {
  width: 16px;
  height: 16px;
  flex: none;
}
.solid {
  fill: var(--ink);
}
.ring {
  fill: none;
  stroke: var(--quiet);
  stroke-width: 1.5;
}
.ring.done {
  fill: var(--accent);
  stroke: var(--accent);
}
.ring.under_way {
  stroke: var(--accent);
}
.ring.attention {
  stroke: var(--caution);
}
.half {
  fill: var(--accent);
}
.half.amber {
  fill: var(--caution);
}
.stage:focus-visible {
  outline-offset: -3px;
}
@media (max-width: 900px) {
  .stage {
    padding-left: 24px;
  }
  .by-hand {
    display: none;
  }
}
@media (max-width: 560px) {
  .stages {
    flex-direction: row;
    display: flex;
    padding: 0;
    border: 0;
    background: none;
  }
}
</style>
