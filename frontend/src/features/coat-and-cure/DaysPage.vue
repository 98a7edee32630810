<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, ref, useTemplateRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, body } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useOpenTrial } from '@/app/openTrial'
import { now, serverNow } from '@/app/serverClock'
import ChoiceBar from '@/kit/ChoiceBar.vue'
import StateView from '@/kit/StateView.vue'
import AlarmChoices from './AlarmChoices.vue'
import BenchLog from './BenchLog.vue'
import DayBar from './DayBar.vue'
import DayLanes from './DayLanes.vue'
import { ZOOMS, type Zoom } from './lanes'
import { dayWords, laterDate, ms, nextOperation, type BenchDay } from './model'
import PlanJob from './PlanJob.vue'
import PlanStart from './PlanStart.vue'
import { useDays } from './useDays'
import WorkCards from './WorkCards.vue'
import WorkDesk from './WorkDesk.vue'

const route = useRoute()
const open = useOpenTrial()
const trialId = computed(() => open.summary?.trial.id ?? 0)
const { days, operations, pending, trouble, first, nDays, isMaking, queue, ...acts } = useDays(
  () => trialId.value,
)
const log = useLoaded(
  () => body(api.GET('/api/trials/{trial_id}/days/log', { params: { path: { trial_id: trialId.value } } })),
  [trialId],
)

const zoom = ref<Zoom>('day')
const at = ref(0)
const selected = ref<number | null>(Number(route.query.work) || null)
const said = ref('')
const isBusy = ref(false)
const isShowingKeys = ref(false)
const desk = useTemplateRef<InstanceType<typeof WorkDesk>>('desk')

const zone = computed(() => days.value?.time_zone ?? 'UTC')
const plan = computed(() => days.value?.plan ?? null)
const shownDays = computed(() => days.value?.shown ?? [])
const day = computed<BenchDay | undefined>(() => shownDays.value[0])
const inHand = computed(
  () => operations.value.find((each) => each.id === selected.value) ?? nextOperation(operations.value),
)
const isToday = computed(() => day.value !== undefined && isOn(day.value, now.value))
const sub = computed(() => {
  if (!days.value || !plan.value) return ''
  const hands = days.value.hands.length
  const last = new Date(plan.value.last_work_at).toLocaleDateString('en-GB', {
    timeZone: zone.value,
    day: 'numeric',
    month: 'long',
  })
  const missed = days.value.missed.filter((each) => each.judgement !== 'usable').length
  const windows = missed
    ? `${missed} ${missed === 1 ? 'window' : 'windows'} missed`
    : 'every window held so far'
  return `${hands} ${hands === 1 ? 'pair' : 'pairs'} of hands · last look ${last} · ${windows}`
})
const saved = computed(() => {
  const n = queue.waiting.length
  if (queue.status === 'saved') return 'All saved'
  return queue.status === 'saving' ? `Saving ${n}…` : `${n} kept here, not sent yet`
})

function isOn(each: BenchDay, moment: number): boolean {
  return moment >= ms(each.opens_at) - 12 * 3_600_000 && moment <= ms(each.closes_at) + 6 * 3_600_000
}
/** Look at the day from now when it is today, else from its beginning. */
function settle(): void {
  if (!day.value) return
  at.value = isToday.value ? serverNow() : ms(day.value.opens_at) + 3_600_000
}
watch(() => [day.value?.date, zoom.value], settle, { immediate: true })
watch(zoom, (kind) => (nDays.value = kind === 'week' ? 7 : 1))
watch(
  () => route.query.work,
  (work) => (selected.value = Number(work) || selected.value),
)
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

function shift(direction: number): void {
  const kind = ZOOMS.find((each) => each.id === zoom.value)
  if (kind?.spanMs) at.value += (direction * kind.spanMs) / 2
  else turn(direction * nDays.value)
}
/** Another day; stepping by one day goes on to the next that has work. */
function turn(by: number): void {
  const from = first.value
  const dates = (days.value?.days ?? []).map((each) => each.date)
  const next =
    Math.abs(by) === 1
      ? by > 0
        ? dates.find((date) => date > from)
        : [...dates].reverse().find((date) => date < from)
      : undefined
  selected.value = null
  first.value = next ?? laterDate(from, by)
}
function show(date: string): void {
  selected.value = null
  first.value = date
}
function step(by: number): void {
  const index = operations.value.findIndex((each) => each.id === inHand.value?.id)
  const next = operations.value[Math.min(operations.value.length - 1, Math.max(0, index + by))]
  if (next) selected.value = next.id
}
function zoomBy(by: number): void {
  const index = ZOOMS.findIndex((each) => each.id === zoom.value)
  zoom.value = ZOOMS[Math.min(ZOOMS.length - 1, Math.max(0, index + by))]?.id ?? zoom.value
}
/** Keep what is worked on in hand: it would move on when the panels are done. */
function press(action: 'goOn' | 'finish' | 'takeBack' | 'skip' | 'other'): void {
  selected.value = inHand.value?.id ?? null
  if (action === 'skip' || action === 'other') desk.value?.ask(action)
  else desk.value?.[action]()
}

const KEYS: Record<string, () => void> = {
  ArrowDown: () => step(1),
  ArrowUp: () => step(-1),
  ArrowLeft: () => shift(-1),
  ArrowRight: () => shift(1),
  Enter: () => press('goOn'),
  d: () => press('finish'),
  o: () => press('other'),
  s: () => press('skip'),
  u: () => press('takeBack'),
  '+': () => zoomBy(1),
  '-': () => zoomBy(-1),
  '[': () => turn(-1),
  ']': () => turn(1),
  n: () => (selected.value = nextOperation(operations.value)?.id ?? null),
  '?': () => (isShowingKeys.value = !isShowingKeys.value),
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const target = event.target as HTMLElement
  if (event.ctrlKey || event.metaKey || event.altKey || event.repeat) return
  if (/^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) return
  // A button or a link that has the focus is pressed by Enter itself.
  if (event.key === 'Enter' && /^(BUTTON|A)$/.test(target.tagName)) return
  if (document.querySelector('.el-overlay:not([style*="none"])')) return
  const act = KEYS[event.key]
  if (!act || !operations.value.length) return
  act()
  event.preventDefault()
})
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
        <a
          v-if="operations.length && nDays === 1"
          class="press"
          :href="`/api/trials/${trialId}/days/sheet.pdf?day=${day?.date}`"
          download
          >Day sheet</a
        >
      </div>
    </header>
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
        <p v-if="days.n_left_open" class="sheet left-open">
          {{ days.n_left_open === 1 ? 'One piece of work has' : `${days.n_left_open} pieces of work have` }}
          passed undone. Write down what was done, or plan again from now.
        </p>
        <DayBar :days="days.days" :first="first" :n-days="nDays" @show="show" @turn="turn" />
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
            <button class="press" aria-label="Earlier" @click="shift(-1)">◂</button>
            <button class="press" aria-label="Later" @click="shift(1)">▸</button>
          </div>
        </DayLanes>
        <p v-if="!operations.length" class="quiet">
          Nothing is planned here: {{ days.days.length ? 'panels cure, or hands are off.' : 'all is done.' }}
        </p>
        <div v-else class="split">
          <WorkDesk
            v-if="inHand && day"
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
        <BenchLog v-if="log.data.value" :log="log.data.value" :zone="zone" :trial-id="trialId" />
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
