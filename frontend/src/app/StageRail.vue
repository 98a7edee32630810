<script setup lang="ts">
import { computed, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useEntries } from './entries'
import { useJudging } from './judging'
import { useOpenTrial } from './openTrial'
import { keptDrafts, useSession } from './session'
import { STAGES, STATE_WORDS, type StageState } from './stages'
import { theme } from './theme'
import { useWorkEntries } from './workEntries'
import { unitSystem } from '@/kit/units'

const route = useRoute()
const session = useSession()
const open = useOpenTrial()
const judging = useJudging()
const queues = [useEntries(), useWorkEntries()]

const trialId = computed(() => Number(route.params.trialId) || null)
const keeps = computed(() => session.person?.keeps_key ?? false)
const stages = computed(() => (keeps.value ? STAGES : STAGES.filter((stage) => stage.id === 'read')))
/** A stage's own page, or one that belongs to it. */
const here = computed(() => route.meta.stage ?? route.name)
const places = computed(() => [
  { to: '/', name: 'Today' },
  ...(keeps.value
    ? [
        { to: '/trials', name: 'Trials' },
        { to: '/shelf/products', name: 'Shelf' },
        { to: '/calculators', name: 'Calculators' },
        { to: '/bench', name: 'Bench' },
        { to: '/people', name: 'People' },
      ]
    : [{ to: '/people', name: 'Password' }]),
])

// Grading has no frame of the trial round it, and the rail shows its stages all the same.
watch(
  [trialId, keeps, here],
  ([id, isKeeper, page]) => {
    if (id && isKeeper && page === 'read') void open.load(id)
  },
  { immediate: true },
)

/** A judge knows of one stage: how far their own grading is. */
function ownReading(): StageState {
  const own = judging.tasks.filter((task) => task.trial_id === trialId.value)
  const graded = own.reduce((sum, task) => sum + task.n_graded, 0)
  const spots = own.reduce((sum, task) => sum + task.n_spots, 0)
  return graded === 0 ? 'empty' : graded < spots ? 'under_way' : 'done'
}

function stateOf(id: string): StageState {
  if (!keeps.value) return ownReading()
  const states = open.summary?.trial.id === trialId.value ? open.summary?.stages : undefined
  return states?.[id.replaceAll('-', '_') as keyof typeof states] ?? 'empty'
}

/** A place stands out on its own pages too: the shelf on a product's page. */
function isWithin(to: string): boolean {
  const start = `/${to.split('/')[1]}`
  return start.length > 1 && !trialId.value && route.path.startsWith(start)
}

/** Send what is on its way, then sign out and load the page anew, so that nothing of this person stays in memory. */
async function leave(): Promise<void> {
  await Promise.all(queues.map((queue) => queue.flush()))
  const nWaiting = queues.reduce((sum, queue) => sum + queue.waiting.length, 0)
  if (nWaiting) {
    window.alert(`${nWaiting} entries have not reached the server yet. Sign out when the network is back.`)
    return
  }
  const drafts = keptDrafts(session.person?.id ?? 0).length
  if (drafts && !window.confirm('What you typed and did not save is forgotten in this browser. Sign out?'))
    return
  await session.signOut()
  window.location.assign('/')
}
</script>

<template>
  <div class="rail">
    <nav aria-label="Places" class="places">
      <RouterLink
        v-for="place in places"
        :key="place.to"
        :to="place.to"
        class="place"
        :class="{ within: isWithin(place.to) }"
        >{{ place.name }}</RouterLink
      >
    </nav>
    <nav v-if="trialId" aria-label="Stages of the trial" class="stages">
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
    <div class="foot">
      <span class="who">{{ session.person?.display_name }}</span>
      <button
        class="small"
        :aria-label="`${theme === 'dark' ? 'Light' : 'Dark'} screen`"
        @click="theme = theme === 'dark' ? 'light' : 'dark'"
      >
        {{ theme === 'dark' ? 'Light' : 'Dark' }}
      </button>
      <button class="small" @click="unitSystem = unitSystem === 'us' ? 'metric' : 'us'">
        {{ unitSystem === 'us' ? 'Metric' : 'US' }} units
      </button>
      <button class="small" @click="leave">Sign out</button>
    </div>
  </div>
</template>

<style scoped>
.rail {
  display: flex;
  flex-direction: column;
  overflow: auto;
  background: var(--rail);
  border-right: 1px solid var(--hairline);
}
.places {
  display: grid;
  grid-template-columns: 1fr 1fr;
  padding: 8px 0;
  border-bottom: 1px solid var(--hairline);
}
.place,
.small {
  display: flex;
  align-items: center;
  min-height: 40px;
  padding: 0 20px;
  border: 0;
  background: none;
  color: var(--ink);
  font-size: 15px;
  text-align: left;
  text-decoration: none;
  cursor: pointer;
}
.places .place {
  padding: 0 6px 0 20px;
}
.places .place:nth-child(even) {
  padding-left: 10px;
}
.place.router-link-exact-active,
.place.within {
  background: var(--paper);
  font-weight: 700;
}
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
.stage:focus-visible,
.place:focus-visible,
.small:focus-visible {
  outline-offset: -3px;
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
.foot {
  display: grid;
  grid-template-columns: 1fr 1fr;
  margin-top: auto;
  padding: 6px 0;
  border-top: 1px solid var(--hairline);
}
.foot .small:nth-child(odd) {
  padding-left: 10px;
  padding-right: 6px;
}
.who {
  grid-column: 1 / -1;
  display: block;
  padding: 4px 20px;
  font-weight: 600;
}
.small {
  width: 100%;
  font-size: 14px;
  color: var(--quiet);
}
@media (max-width: 900px) {
  .places,
  .foot {
    grid-template-columns: 1fr;
  }
  .places .place:nth-child(n),
  .foot .small:nth-child(n) {
    padding-left: 14px;
  }
  .place,
  .small,
  .who {
    padding-left: 14px;
  }
  .stage {
    padding-left: 24px;
  }
  .by-hand {
    display: none;
  }
}
@media (max-width: 560px) {
  .rail {
    flex-direction: row;
    overflow-x: auto;
    border-bottom: 1px solid var(--hairline);
  }
  .places,
  .stages {
    flex-direction: row;
    display: flex;
    padding: 0;
    border: 0;
    background: none;
  }
  .foot {
    display: flex;
    margin: 0;
    padding: 0;
    border: 0;
  }
  .who {
    display: none;
  }
  .small {
    white-space: nowrap;
  }
}
</style>
