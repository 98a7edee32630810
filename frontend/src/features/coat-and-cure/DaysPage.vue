<script setup lang="ts">
import { computed, ref, useTemplateRef } from 'vue'
import { api, body } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useOpenTrial } from '@/app/openTrial'
import { queueWords } from '@/app/queueWords'
import { now } from '@/app/serverClock'
import StateView from '@/kit/StateView.vue'
import BenchLog from './BenchLog.vue'
import DayBar from './DayBar.vue'
import DayKeys from './DayKeys.vue'
import DayLanes from './DayLanes.vue'
import DaysHead from './DaysHead.vue'
import { dayWords, planWords } from './model'
import PlanAgain from './PlanAgain.vue'
import PlanJob from './PlanJob.vue'
import PlanNotices from './PlanNotices.vue'
import PlanStart from './PlanStart.vue'
import RefusedWork from '@/app/RefusedWork.vue'
import { useDayKeys } from './useDayKeys'
import { useDays } from './useDays'
import { useDayView } from './useDayView'
import WorkCards from './WorkCards.vue'
import WorkDesk from './WorkDesk.vue'
import ZoomTools from './ZoomTools.vue'

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
const saved = computed(() => queueWords(queue, 'All saved'))

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
/** A plan made again keeps what it was asked for. */
const ASKED = { weighs: false, prepares: false, condition_h: 0, again: false, mend: '', together_with: [] }
const isAskingWith = ref(false)
async function planAgain(together_with: number[]): Promise<void> {
  isAskingWith.value = false
  await change(() => acts.plan({ ...ASKED, again: true, together_with }))
}
/** With other trials under way it is asked which of them may move too. */
function askAgain(): void {
  if (days.value?.beside.length) isAskingWith.value = !isAskingWith.value
  else void planAgain([])
}
const tryMend = (mend: string) => change(() => acts.plan({ ...ASKED, mend }))
const stop = () => change(acts.stop)

/** Keep what is worked on in hand: the next would come by itself when its panels are done. */
function hold(): void {
  selected.value = inHand.value?.id ?? null
}
useDayKeys(
  view,
  () => desk.value,
  isShowingKeys,
  () => operations.value.length > 0,
)
</script>

<template>
  <div class="page">
    <DaysHead
      :trial-id="trialId"
      :title="plan && day ? dayWords(day.date) : 'Coat and cure'"
      :says="sub"
      :saved="saved"
      :is-kept="queue.status === 'kept'"
      :is-planned="plan !== null"
      :is-busy="isBusy || isMaking"
      :date="operations.length && nDays === 1 && day ? day.date : null"
      @again="askAgain"
    />
    <PlanAgain
      v-if="isAskingWith && days"
      :trials="days.beside"
      :is-busy="isBusy || isMaking"
      @plan="planAgain"
      @leave="isAskingWith = false"
    />
    <p v-if="said" class="late" role="alert">{{ said }}</p>
    <RefusedWork v-if="queue.refused.length" :refused="queue.refused" @seen="queue.forgetRefused" />

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
        @again="askAgain"
        @mend="tryMend"
      />
      <PlanStart
        v-if="!plan && !isMaking"
        :days="days"
        :trial-id="trialId"
        :send="(asked) => change(() => acts.plan(asked))"
      />
      <template v-if="plan">
        <PlanNotices :days="days" :trial-id="trialId" :zone="zone" />
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
          <ZoomTools v-model="zoom" @shift="view.shift" />
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
            :pours="days.pours"
            :applied="log.data.value?.applied ?? []"
            :cannot-be-had="days.cannot_be_had"
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
        <DayKeys v-model="isShowingKeys" />
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
.split {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 20px;
  align-items: start;
}
@media (max-width: 1000px) {
  .split {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
