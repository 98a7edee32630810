<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { spanOf } from '@/app/dueWords'
import { useJudging } from '@/app/judging'
import MixRow from './MixRow.vue'
import {
  clockOf,
  isDone,
  ms,
  nextTurn,
  runningTurn,
  STATE_WORDS,
  stateOf,
  type BenchDay,
  type Operation,
} from './model'
import OtherTime from './OtherTime.vue'
import CautionList from '@/kit/CautionList.vue'
import ReasonForm from '@/kit/ReasonForm.vue'
import PanelTurns from './PanelTurns.vue'
import PourRow from '@/kit/PourRow.vue'
import ReadingField from '@/kit/ReadingField.vue'
import { useDesk } from './useDesk'

/** The work in hand: what to take, what to mind, each panel with its window, and the keys to press. */
const SAME_POUR_MS = 12 * 3_600_000
const props = defineProps<{
  operation: Operation
  trialId: number
  now: number
  zone: string
  day: BenchDay
  instruments: readonly string[]
  mixes: readonly Schemas['Mix'][]
  pours: readonly Schemas['Pour'][]
  applied: readonly Schemas['AppliedCoat'][]
  cannotBeHad: readonly Schemas['CannotBeHad'][]
  isStarted: boolean
}>()
const emit = defineEmits<{ mixed: []; hold: []; next: [] }>()

const desk = useDesk(() => props.trialId)
const asking = ref<'' | 'skip' | 'other'>('')
const climate = ref<Record<string, number | null>>({})
const mix = ref<number | null>(null)
const pour = ref<number | null>(null)
const judging = useJudging()

const state = computed(() => stateOf(props.operation, props.now))
const running = computed(() => runningTurn(props.operation))
const next = computed(() => nextTurn(props.operation))
const isOver = computed(() => props.operation.turns.every(isDone))
const isWeighing = computed(() => props.operation.kind === 'weigh')
const asksAir = computed(() => props.operation.kind === 'coat')
const asksBlock = computed(() => props.operation.is_hot && props.operation.kind === 'lay')
const ownMixes = computed(() =>
  props.mixes.filter((each) =>
    each.cup && props.operation.cup?.is_mixed
      ? each.cup === props.operation.cup.key
      : each.build_up_id === props.operation.build_up_id && each.item === props.operation.item,
  ),
)
/** What was poured for it today, the newest first: yesterday's coffee is another. */
const ownPours = computed(() =>
  props.pours.filter(
    (each) =>
      each.agent === props.operation.agent &&
      props.now - ms(each.made_at) < SAME_POUR_MS &&
      props.operation.agent,
  ),
)
const mainWords = computed(() => {
  if (isOver.value) return 'Next work'
  if (running.value)
    return next.value ? `${running.value.code} done, on to ${next.value.code}` : `${running.value.code} done`
  return `Start ${next.value?.code ?? ''}`
})
/** Where a look is graded, for whoever is one of its judges. */
const look = computed(() => {
  const task = judging.tasks.find(
    (each) =>
      each.trial_id === props.trialId && each.by === 'judges' && each.look.id === props.operation.look,
  )
  return task ? { name: 'read', params: { trialId: props.trialId, look: task.look.id } } : null
})
/** Told before it is done: a coat too early shuts solvent in, an exposure too early tells of the cure. */
const tooEarly = computed(() => {
  const opens = next.value?.opens_at
  return opens && !running.value && ms(opens) > props.now
    ? `${next.value?.code} is not ready: its window opens in ${spanOf(ms(opens) - props.now)}. Starting now is a deviation.`
    : ''
})
/** What the bare wood was to be measured for: under a coat it is too late. */
const missing = computed(() => {
  if (props.operation.kind !== 'coat') return []
  const codes = new Set(props.operation.turns.filter((turn) => !turn.begun_at).map((turn) => turn.code))
  const byWhat = new Map<string, { look: string; by: string; panels: string[] }>()
  for (const each of props.cannotBeHad) {
    if (!codes.has(each.panel)) continue
    const known = byWhat.get(each.what) ?? { look: each.look, by: each.by, panels: [] }
    if (!known.panels.includes(each.panel)) known.panels.push(each.panel)
    byWhat.set(each.what, known)
  }
  return [...byWhat].map(([what, { panels, look, by }]) => ({
    says: `Not read yet on the bare wood of ${panels.join(', ')}: ${what}. Under a coat it cannot be had any more.`,
    to:
      by === 'hands'
        ? { name: 'read', params: { trialId: props.trialId, look }, query: { by: 'hands' } }
        : null,
  }))
})
const measured = computed<Schemas['MeasuredRequest']>(() =>
  asksAir.value || asksBlock.value || props.operation.agent
    ? {
        ...climate.value,
        ...(mix.value ? { mix: mix.value } : {}),
        ...(pour.value ? { pour: pour.value } : {}),
      }
    : {},
)

watch(
  () => props.operation.id,
  () => {
    const { temperature_c, humidity_pct, block_c } = props.operation
    climate.value = asksBlock.value ? { block_c } : asksAir.value ? { temperature_c, humidity_pct } : {}
    mix.value = asksAir.value ? (props.operation.mix ?? ownMixes.value[0]?.id ?? null) : null
    pour.value = props.operation.pour ?? ownPours.value[0]?.id ?? null
    asking.value = ''
  },
  { immediate: true },
)
watch(ownMixes, (mixes) => (mix.value ??= mixes[0]?.id ?? null))
watch(ownPours, (pours) => (pour.value ??= pours[0]?.id ?? null))

/** What was measured after the work began belongs to it too; the same again is nothing new. */
let kept = ''
function keepMeasured(): void {
  const what = `${props.operation.id} ${JSON.stringify(measured.value)}`
  if (what === kept || !props.operation.turns.some((turn) => turn.begun_at)) return
  kept = what
  desk.measure(props.operation, measured.value)
}
function goOn(): void {
  if (isOver.value) emit('next')
  else if (!isWeighing.value && props.isStarted) {
    emit('hold')
    desk.goOn(props.operation, measured.value)
  }
}
function finish(): void {
  if (isOver.value || isWeighing.value || !props.isStarted) return
  emit('hold')
  desk.finish(props.operation, measured.value)
}
function finishAt(begun: number, ended: number): void {
  emit('hold')
  desk.finishAt(props.operation, begun, ended, measured.value)
  asking.value = ''
}
function skip(reason: string): void {
  emit('hold')
  desk.skip(props.operation, reason)
  asking.value = ''
}
function even(): void {
  if (!props.operation.until_even || !next.value || !props.isStarted) return
  emit('hold')
  desk.even(props.operation, next.value.code)
}
function weigh(code: string, nth: 1 | 2, grams: number): void {
  emit('hold')
  desk.weigh(props.operation, code, nth, grams)
}
function ask(what: 'skip' | 'other'): void {
  emit('hold')
  if (!isOver.value && props.isStarted) asking.value = asking.value === what ? '' : what
}
function takeBack(): void {
  emit('hold')
  desk.takeBack(props.operation)
}
defineExpose({ goOn, finish, even, ask, takeBack })
</script>

<template>
  <section class="sheet desk" aria-labelledby="desk-title">
    <header>
      <h2 id="desk-title">{{ operation.what }}</h2>
      <p>
        {{ operation.product || operation.build_up || operation.board }} ·
        {{ operation.hands.split(' ')[0] }} ·
        <span class="mono"
          >{{ clockOf(operation.start_at, zone) }}–{{ clockOf(operation.end_at, zone) }}</span
        >
        ·
        <strong :class="{ late: state === 'behind' }">{{ STATE_WORDS[state] }}</strong>
      </p>
    </header>
    <CautionList v-if="operation.cautions.length" :cautions="operation.cautions" />
    <p v-if="operation.note" class="note">{{ operation.note }}</p>
    <p v-for="each in missing" :key="each.says" class="caution" role="note">
      {{ each.says }}
      <RouterLink v-if="each.to" :to="each.to">Measure it first</RouterLink>
    </p>
    <MixRow
      v-if="operation.kind === 'coat'"
      v-model="mix"
      :operation="operation"
      :trial-id="trialId"
      :mixes="ownMixes"
      :now="now"
      @mixed="emit('mixed')"
      @update:model-value="keepMeasured"
    />
    <PourRow
      v-if="operation.agent && isStarted"
      v-model="pour"
      :item="operation.item"
      :trial-id="trialId"
      :pours="ownPours"
      :zone="zone"
      @poured="emit('mixed')"
      @update:model-value="keepMeasured"
    />
    <ReadingField
      v-if="asksAir"
      id="air"
      v-model="climate"
      instrument="climate"
      :fields="[
        { name: 'temperature_c', label: 'Air', quantity: 'celsius', from: 'c' },
        { name: 'humidity_pct', label: 'humidity', quantity: 'percent', from: 'rh' },
      ]"
      :is-there="instruments.includes('climate')"
      @read="keepMeasured"
      @typed="keepMeasured"
    />
    <ReadingField
      v-if="asksBlock"
      id="block"
      v-model="climate"
      instrument="block"
      :fields="[{ name: 'block_c', label: 'Block at contact', quantity: 'celsius', from: 'c' }]"
      :is-there="instruments.includes('block')"
      @read="keepMeasured"
      @typed="keepMeasured"
    />
    <p v-if="operation.kind === 'look'">
      <RouterLink v-if="look" class="press press-main" :to="look">Grade these panels under Read</RouterLink>
      <span v-else class="quiet">The judges grade these panels, each under Read on their own page.</span>
    </p>
    <PanelTurns
      :operation="operation"
      :now="now"
      :zone="zone"
      :has-balance="instruments.includes('balance')"
      :applied="applied"
      @weigh="weigh"
    />
    <p v-if="!isStarted" class="caution">
      The trial has not started: nothing can be logged yet.
      <RouterLink :to="`/trials/${trialId}/prepare`">Start it under Prepare</RouterLink>.
    </p>
    <p v-else-if="tooEarly" class="caution" role="note">{{ tooEarly }}</p>
    <div v-if="isStarted" class="keys">
      <button v-if="!isWeighing || isOver" class="press press-main main" @click="goOn">
        {{ mainWords }}
      </button>
      <button v-if="operation.until_even && next" class="press even" @click="even">
        {{ next.code }} is even: no more coats
      </button>
      <button v-if="!isWeighing" class="press" :disabled="isOver" @click="finish">All done</button>
      <button v-if="!isWeighing" class="press" :disabled="isOver" @click="ask('other')">
        Done, other time…
      </button>
      <button class="press" :disabled="isOver" @click="ask('skip')">Skip…</button>
      <button class="press" @click="takeBack">Take back</button>
    </div>
    <OtherTime
      v-if="asking === 'other'"
      :operation="operation"
      :day="day"
      :zone="zone"
      :now="now"
      @done="finishAt"
    />
    <ReasonForm
      v-if="asking === 'skip'"
      id="skip-reason"
      asks="Why is it skipped?"
      example="Panel dropped on its face"
      does="Skip it"
      @give="skip"
      @leave="asking = ''"
    />
  </section>
</template>

<style scoped>
.desk {
  display: flex;
  flex-direction: column;
  gap: 14px;
  padding: 16px 18px;
}
h2 {
  font-size: 20px;
}
.keys {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.keys .press {
  min-height: 52px;
}
.keys .even {
  grid-column: 1 / -1;
}
.keys .main {
  grid-column: 1 / -1;
  min-height: 64px;
  font-size: 19px;
  font-weight: 700;
}
</style>
