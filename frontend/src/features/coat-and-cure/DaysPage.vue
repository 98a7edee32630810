<script setup lang="ts">
import { computed, ref, useTemplateRef } from 'vue'
import { api, body } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useOpenTrial } from '@/app/openTrial'
import { useScreenKeys } from '@/app/screenKeys'
import PaperProgress from '@/app/PaperProgress.vue'
import { keptPaper, usePaper } from '@/app/papers'
import { now } from '@/app/serverClock'
import ChoiceBar from '@/kit/ChoiceBar.vue'
import StateView from '@/kit/StateView.vue'
import AlarmChoices from './AlarmChoices.vue'
import BenchLog from './BenchLog.vue'
import DayBar from './DayBar.vue'
import DayLanes from './DayLanes.vue'
import { ZOOMS, type Zoom } from './lanes'
import { clockOf, dayWords, planWords } from './model'
import PlanJob from './PlanJob.vue'
import PlanStart from './PlanStart.vue'
import { useDays } from './useDays'
import { useDayView } from './useDayView'
import WorkCards from './WorkCards.vue'
import WorkDesk from './WorkDesk.vue'

const open = useOpenTrial()
const trialId = computed(() => open.summary?.trial.id ?? 0)
const { days, operations, pending, trouble, first, nDays, isMaking, queue, ...acts } = useDays(
  () => trialId.value,
)
const log = useLoaded(
  () => body(api.GET('/api/trials/{trial_id}/days/log', { params: { path: { trial_id: trialId.value } } })),
  [trialId],
)

const view = useDayView({ days, operations, first, nDays })
const { zoom, at, selected, shownDays, day, inHand } = view
const said = ref('')
const isBusy = ref(false)
const isShowingKeys = ref(false)
const desk = useTemplateRef<InstanceType<typeof WorkDesk>>('desk')

const zone = computed(() => days.value?.time_zone ?? 'UTC')
const plan = computed(() => days.value?.plan ?? null)
const sub = computed(() =>
  days.value?.plan ? planWords(days.value, days.value.plan, open.summary?.n_deviations ?? 0) : '',
)
const nextDay = computed(() => days.value?.days.find((each) => each.n_done < each.n_operations))
const saved = computed(() => {
  const n = queue.waiting.length
  if (queue.status === 'saved') return 'All saved'
  return queue.status === 'saving' ? `Saving ${n}…` : `${n} kept here, not sent yet`
})

queue.listen((entry) => {
  if (entry.trial_id === trialId.value && pending.value.length === 0) {
    void log.load()
    void open.load(trialId.value)
  }
})

async function change(request: () => Promise<string>): Promise<string> {
  isBusy.value = true
  said.value = await request()
  isBusy.value = false
  return said.value
}
const planAgain = () => change(() => acts.plan({ again: true, weighs: false, condition_h: 0 }))
const stop = () => change(acts.stop)
const paper = usePaper()
const printDay = (date: string): Promise<void> =>
  paper.make(() =>
    body(
      api.POST('/api/trials/{trial_id}/days/sheet', {
        params: { path: { trial_id: trialId.value } },
        body: { day: date, paper: keptPaper().value },
      }),
    ),
  )

/** Keep what is worked on in hand: the next would come by itself when its panels are done. */
function hold(): void {
  selected.value = inHand.value?.id ?? null
}
useScreenKeys(
  {
    ArrowDown: () => view.step(1),
    ArrowUp: () => view.step(-1),
    ArrowLeft: () => view.shift(-1),
    ArrowRight: () => view.shift(1),
    Enter: () => desk.value?.goOn(),
    d: () => desk.value?.finish(),
    o: () => desk.value?.ask('other'),
    s: () => desk.value?.ask('skip'),
    u: () => desk.value?.takeBack(),
    '+': () => view.zoomBy(1),
    '-': () => view.zoomBy(-1),
    '[': () => view.turn(-1),
    ']': () => view.turn(1),
    n: view.takeNext,
    '?': () => (isShowingKeys.value = !isShowingKeys.value),
  },
  () => operations.value.length > 0,
)
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>{{ plan && day ? dayWords(day.date) : 'Coat and cure' }}</h1>
        <p v-if="plan" class="quiet">
          {{ sub }} · <span role="status" :class="{ caution: queue.status === 'kept' }">{{ saved }}</span>
        </p>
      </div>
      <div v-if="plan" class="row">
        <button class="press" :disabled="isBusy || isMaking" @click="planAgain">Plan again from now</button>
        <a class="press" :href="`/api/trials/${trialId}/days/calendar.ics`" download>Calendar</a>
        <button
          v-if="operations.length && nDays === 1 && day"
          class="press"
          :disabled="paper.isAsking.value"
          @click="printDay(day.date)"
        >
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
    <p v-if="said" class="late" role="alert">{{ said }}</p>
    <ul v-if="queue.refused.length" class="sheet refused" role="alert">
      <li v-for="each in queue.refused" :key="each.entry.client_id">
        <strong
          >Not kept: {{ each.entry.entry }} {{ each.entry.kind }} {{ each.entry.panels.join(', ') }}.</strong
        >
        {{ each.says }}
      </li>
      <li><button class="press" @click="queue.forgetRefused">I have seen it</button></li>
    </ul>

    <StateView v-if="trouble && !days" kind="trouble" title="The bench days cannot be shown" :says="trouble">
      <button class="press press-main" @click="acts.load">Try again</button>
    </StateView>
    <StateView v-else-if="!days" kind="busy" title="Laying the days out…" />
    <template v-else>
      <PlanJob
        v-if="days.job"
        :job="days.job"
        :zone="zone"
        :is-busy="isBusy"
        @stop="stop"
        @again="planAgain"
      />
      <PlanStart
        v-if="!plan && !isMaking"
        :days="days"
        :trial-id="trialId"
        :send="(asked) => change(() => acts.plan(asked))"
      />
      <template v-if="plan">
        <ul v-if="plan.late.length" class="sheet late-plan">
          <li v-for="says in plan.late" :key="says">{{ says }}</li>
        </ul>
        <p v-if="plan.left_out.length" class="sheet left-open">
          Spoiled by what was missed, and planned no more:
          <span class="mono">{{ plan.left_out.join(', ') }}</span>.
          <RouterLink :to="`/trials/${trialId}/prepare#deviations`">Replace them under Prepare</RouterLink>,
          then plan again.
        </p>
        <div v-if="days.others.length" class="sheet left-open">
          <p v-for="other in days.others" :key="`${other.trial_id} ${other.hands} ${other.start_at}`">
            {{ other.hands.split(' ')[0] }} is planned for
            <RouterLink :to="`/trials/${other.trial_id}/coat-and-cure`">{{ other.trial_name }}</RouterLink>
            too, {{ clockOf(other.start_at, zone) }}–{{ clockOf(other.end_at, zone) }}.
          </p>
          <p class="quiet">
            Plans of two trials do not know of each other: mind the hands, and keep hot tests from open
            solvents and bleach from acids and ammonia yourself.
          </p>
        </div>
        <p v-if="days.n_left_open" class="sheet left-open">
          {{ days.n_left_open === 1 ? 'One piece of work has' : `${days.n_left_open} pieces of work have` }}
          passed undone. Write down what was done, or plan again from now.
        </p>
        <DayBar :days="days.days" :first="first" :n-days="nDays" @show="view.show" />
        <DayLanes
          :operations="operations"
          :hands="days.hands"
          :days="shownDays"
          :zoom="zoom"
          :at="at"
          :now="now"
          :zone="zone"
          :selected="inHand?.id ?? null"
          @pick="(id) => (selected = id)"
        >
          <div class="row tools">
            <ChoiceBar
              label="How much time shows"
              :options="ZOOMS"
              :chosen="zoom"
              @choose="(id) => (zoom = id as Zoom)"
            />
            <button class="press" aria-label="Earlier" @click="view.shift(-1)">◂</button>
            <button class="press" aria-label="Later" @click="view.shift(1)">▸</button>
          </div>
        </DayLanes>
        <p v-if="!operations.length" class="quiet">
          Nothing is planned here: {{ days.days.length ? 'panels cure, or hands are off.' : 'all is done.' }}
        </p>
        <div v-else class="split">
          <StateView
            v-if="!inHand"
            class="over"
            title="All of this day’s work is done"
            :says="nextDay ? `It goes on on ${dayWords(nextDay.date)}.` : 'Nothing is left to do.'"
          >
            <button v-if="nextDay" class="press press-main" @click="view.show(nextDay.date)">
              Go to {{ dayWords(nextDay.date, 'short') }}
            </button>
          </StateView>
          <WorkDesk
            v-else-if="day"
            ref="desk"
            class="desk"
            :operation="inHand"
            :trial-id="trialId"
            :now="now"
            :zone="zone"
            :day="day"
            :instruments="days.instruments"
            :mixes="days.mixes"
            :applied="log.data.value?.applied ?? []"
            :is-started="days.is_started"
            @mixed="acts.load"
            @hold="hold"
            @next="view.takeNext"
          />
          <WorkCards
            :operations="operations"
            :selected="inHand?.id ?? null"
            :now="now"
            :zone="zone"
            :shows-hands="days.hands.length > 1"
            @pick="(id) => (selected = id)"
          />
        </div>
        <div class="keys-hint">
          <button class="press" @click="isShowingKeys = !isShowingKeys">Keys</button>
          <span v-if="isShowingKeys" class="quiet">
            Enter start, then next panel · D all done · O done at another time · S skip · U take back · ↑ ↓
            another work · N what is next · ← → earlier, later · + − zoom · [ ] another day
          </span>
          <AlarmChoices />
        </div>
        <BenchLog
          v-if="log.data.value"
          :log="log.data.value"
          :zone="zone"
          :trial-id="trialId"
          :is-simulated="open.summary?.trial.is_simulated ?? false"
        />
      </template>
    </template>
  </div>
</template>

<style scoped>
.page {
  gap: 14px;
}
.tools {
  gap: 8px;
}
.tools :deep(.press) {
  padding: 0 12px;
}
.split {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 20px;
  align-items: start;
}
.left-open,
.late-plan,
.refused {
  margin: 0;
  padding: 10px 16px;
  border-left: 4px solid var(--due);
  list-style: none;
}
.refused {
  border-left-color: var(--late);
}
.keys-hint {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 12px;
}
@media (max-width: 1000px) {
  .split {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
