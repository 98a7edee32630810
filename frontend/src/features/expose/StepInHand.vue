<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { spanOf } from '@/app/dueWords'
import CautionList from '@/kit/CautionList.vue'
import PourRow from '@/kit/PourRow.vue'
import ReasonForm from '@/kit/ReasonForm.vue'
import ReadingField from '@/kit/ReadingField.vue'
import { quantityOf, said } from '@/kit/units'
import { blockOff, siteKey, stepWords, type Expose, type Step } from './model'

/** What is to be done now, with its one large key: the pour, the block, what to mind. */
const SAME_POUR_MS = 12 * 3_600_000
const props = defineProps<{
  view: Expose
  step: Step
  trialId: number
  now: number
  place: string
}>()
const emit = defineEmits<{
  done: [measured: Record<string, number>]
  poured: []
  skip: [reason: string]
  wrong: []
  takeBack: []
}>()

const climate = ref<Record<string, number | null>>({})
const pour = ref<number | null>(null)
const isSkipping = ref(false)

const act = computed(() => props.step.act)
const ownPours = computed<Schemas['Pour'][]>(() =>
  props.view.pours.filter(
    (each) =>
      each.agent === props.step.site.test.agent && props.now - Date.parse(each.made_at) < SAME_POUR_MS,
  ),
)
const blockC = computed(() => climate.value.block_c ?? null)
const off = computed(() => blockOff(act.value, blockC.value, props.view.block_tolerance_c))
const isRefused = computed(() => off.value.isOff && props.view.block_check === 'refuse')
/** Told before it is done: early is a deviation, and so is a panel that has not cured. */
const tooEarly = computed(() => {
  const { opens } = props.step
  const { nDone, readyAt, panel } = props.step.site
  if (nDone === 0 && readyAt === null)
    return `The log does not tell that ${panel} has had its last coat. Exposing it now is a deviation.`
  if (nDone === 0 && readyAt !== null && readyAt > props.now)
    return `${panel} has not cured: ${spanOf(readyAt - props.now)} to go. Exposing it now is a deviation.`
  return opens !== null && opens > props.now
    ? `Not yet: it opens in ${spanOf(opens - props.now)}. Sooner is a deviation.`
    : ''
})
const wait = computed(() => {
  const { aim, closes } = props.step
  if (aim === null || closes === null) return ''
  if (props.now < aim) return `in ${spanOf(Math.ceil((aim - props.now) / 1000) * 1000)}`
  return props.now <= closes
    ? `now · ${spanOf(closes - props.now)} left`
    : `${spanOf(props.now - closes)} late`
})
const blockNote = computed(() => {
  if (!off.value.isOff || act.value.block_c === null || blockC.value === null) return ''
  const says = `The block is ${quantityOf('celsius', blockC.value)}, and ${quantityOf('celsius', act.value.block_c)} are wanted.`
  return isRefused.value
    ? `${says} Bring it there first: this trial refuses it otherwise.`
    : `${says} It will stand as a deviation.`
})

watch(
  () => siteKey(props.step.site) + props.step.act.id,
  () => {
    // Each contact has a temperature of its own.
    climate.value = {}
    isSkipping.value = false
  },
)
watch(
  ownPours,
  (pours) => (pour.value = pours.find((each) => each.id === pour.value)?.id ?? pours[0]?.id ?? null),
  {
    immediate: true,
  },
)

function finish(): void {
  if (isRefused.value) return
  emit('done', {
    ...(blockC.value === null ? {} : { block_c: blockC.value }),
    ...(act.value.pours && pour.value ? { pour: pour.value } : {}),
  })
}
defineExpose({ finish, askSkip: () => (isSkipping.value = !isSkipping.value) })
</script>

<template>
  <section class="sheet step" aria-labelledby="step-title">
    <header>
      <h2 id="step-title">{{ stepWords(step) }}</h2>
      <span class="mono quiet place">{{ wait || place }}</span>
    </header>
    <p v-if="act.how.length" class="quiet">{{ said(act.how) }}</p>
    <CautionList
      v-if="step.site.test.cautions.length && step.site.nDone === 0"
      :cautions="step.site.test.cautions"
    />
    <p v-if="tooEarly" class="caution" role="note">{{ tooEarly }}</p>
    <ReadingField
      v-if="act.block_c !== null"
      id="block"
      v-model="climate"
      instrument="block"
      :fields="[{ name: 'block_c', label: 'Block at contact', quantity: 'celsius', from: 'c' }]"
      :is-there="view.instruments.includes('block')"
    />
    <p v-if="blockNote" class="caution" role="alert">{{ blockNote }}</p>
    <button class="press press-main main" :disabled="isRefused" @click="finish">
      {{ act.verb }} <span class="key">Space</span>
    </button>
    <div class="keys">
      <button class="press" @click="emit('takeBack')"><u>U</u>&nbsp;take back</button>
      <button class="press" :aria-expanded="isSkipping" @click="isSkipping = !isSkipping">
        <u>S</u>&nbsp;skip…
      </button>
      <button class="press" @click="emit('wrong')"><u>W</u>&nbsp;went wrong…</button>
    </div>
    <ReasonForm
      v-if="isSkipping"
      id="skip-reason"
      asks="Why is it skipped?"
      example="The cover cracked"
      does="Skip it"
      @give="(reason) => emit('skip', reason)"
      @leave="isSkipping = false"
    />
    <PourRow
      v-if="act.pours"
      v-model="pour"
      :item="step.site.test.id"
      :trial-id="trialId"
      :pours="ownPours"
      :zone="view.time_zone"
      @poured="emit('poured')"
    />
  </section>
</template>

<style scoped>
.step {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 16px 18px;
}
header {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 12px;
}
h2 {
  font-size: 20px;
}
.place {
  font-size: 17px;
  white-space: nowrap;
}
.main {
  min-height: 72px;
  font-size: 20px;
  font-weight: 700;
}
.main .key {
  margin-left: 8px;
  font-weight: 400;
  opacity: 0.75;
}
.keys {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px;
}
@media (max-width: 640px) {
  .main {
    position: sticky;
    bottom: 0;
    z-index: 5;
  }
}
</style>
