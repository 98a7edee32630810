<script setup lang="ts">
import { computed, ref, useTemplateRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useJudging } from '@/app/judging'
import { queueWords } from '@/app/queueWords'
import { useSession } from '@/app/session'
import { responseOf } from '@/kit/responses'
import StateView from '@/kit/StateView.vue'
import AnswerKeys from '@/kit/answers/AnswerKeys.vue'
import { drawingsOf } from '@/kit/mark/drawings'
import MeasureTable from '@/kit/answers/MeasureTable.vue'
import AskList from './AskList.vue'
import NoteForm from './NoteForm.vue'
import PanelInHand from './PanelInHand.vue'
import PanelStrip from './PanelStrip.vue'
import PhotoBox from './PhotoBox.vue'
import ReadHead from './ReadHead.vue'
import StepLooks from './StepLooks.vue'
import ReadKeys from './ReadKeys.vue'
import RefusedEntries from './RefusedEntries.vue'
import { useReadKeys } from './useReadKeys'
import { useNote } from './useNote'
import { useInHand } from './useInHand'
import WorkedOutList from './WorkedOutList.vue'
import { useSitting } from './useSitting'

const route = useRoute()
const router = useRouter()
const judging = useJudging()
const session = useSession()
const trialId = computed(() => Number(route.params.trialId))
const look = computed(() => String(route.params.look || '24h'))
const by = computed(() => (route.query.by === 'hands' ? 'hands' : 'judges'))
const {
  sitting,
  place,
  trouble,
  said,
  queue,
  panels,
  panel,
  spot,
  ask,
  nRead,
  nAsked,
  justMeasured,
  ...acts
} = useSitting(
  () => trialId.value,
  () => look.value,
  () => by.value,
)

const {
  noting,
  words: noteText,
  open: openNote,
  keep: keepNote,
} = useNote({ target: acts.noteTarget, standing: () => spot.value?.asks[0]?.note ?? '', keep: acts.note })
const isShowingKeys = ref(false)
const isShowingDrawings = ref(false)
const { names, exposure, isDrawn, same, together, at, inView, asksFor } = useInHand(
  { sitting, panel, spot, ask, place },
  () => by.value === 'hands',
)
const photoBox = useTemplateRef<{ choose: () => void }>('photo-box')
/** What the person reads in this trial in the other way: as a judge, or with the instruments. */
const other = computed(() =>
  judging.tasks.find((task) => task.trial_id === trialId.value && task.by !== by.value),
)
const otherWords = computed(() => (by.value === 'hands' ? 'Grade as a judge' : 'Measure by hand'))
const toOther = computed(() => ({
  name: 'read',
  params: { trialId: trialId.value, look: other.value?.look.id ?? '' },
  query: other.value?.by === 'hands' ? { by: 'hands' } : {},
}))
/** How far each judge is with what is due, once there is more than one. */
const progress = computed(() => {
  const all = sitting.value?.progress ?? []
  return all.length < 2 ? '' : all.map((each) => `${each.judge.split(' ')[0]} ${each.n_read}`).join(' · ')
})
const saved = computed(() => queueWords(queue, `All ${nRead.value} readings saved`))

// Kept before they are wanted: at the bench there may be no network.
watch(
  () =>
    [
      ...new Set(sitting.value?.exposures.flatMap((test) => test.prompts.map((each) => each.response))),
    ].join(),
  (all) => {
    for (const each of all.split(',')) if (responseOf(each).is_drawn) drawingsOf(each).catch(() => undefined)
  },
)
watch([trialId, look, by], () => void acts.load(), { immediate: true })
watch(
  () => queue.status,
  (now) => now === 'saved' && void judging.load(),
)

useReadKeys(
  {
    ...acts,
    openNote,
    photograph: () => photoBox.value?.choose(),
    showDrawings: () => (isShowingDrawings.value = !isShowingDrawings.value),
    toggleHelp: () => (isShowingKeys.value = !isShowingKeys.value),
  },
  () => noting.value !== null,
)
</script>

<template>
  <div class="page">
    <StateView
      v-if="trouble && !sitting"
      kind="trouble"
      title="There is nothing to grade here"
      :says="trouble"
    >
      <button class="press press-main" @click="acts.load">Try again</button>
      <RouterLink v-if="other" class="press" :to="toOther">{{ otherWords }}</RouterLink>
      <RouterLink v-if="session.person?.keeps_key" class="press" :to="`/trials/${trialId}/expose`"
        >Log the acts, or keep their times on paper</RouterLink
      >
      <RouterLink class="press" to="/">Back to Today</RouterLink>
    </StateView>
    <StateView v-else-if="!sitting || !panel || !spot" kind="busy" title="Laying the panels out…" />
    <template v-else>
      <ReadHead
        :sitting="sitting"
        :panel="panel"
        :spot="spot"
        :place="place"
        :saved="saved"
        :is-kept="queue.status === 'kept'"
      />

      <RefusedEntries
        v-if="queue.refused.length"
        :refused="queue.refused"
        :names="names"
        @seen="queue.forgetRefused()"
      />

      <div class="bench" :class="{ measuring: together.length }">
        <div class="left">
          <StepLooks
            v-if="isShowingDrawings && isDrawn && ask"
            class="drawing"
            :response="ask.response"
            @close="isShowingDrawings = false"
          />
          <PanelInHand
            v-else
            class="drawing"
            :sitting="sitting"
            :panel="panel"
            :spot="spot"
            :names="names"
            @pick="acts.pick"
            @turn="acts.turn"
            @look="
              (id) => router.replace({ name: 'read', params: { trialId, look: id }, query: route.query })
            "
          />
          <section aria-label="Your panels">
            <p class="quiet">
              Your panels, in your order: {{ nRead }} of {{ nAsked }} read<template v-if="progress">
                · values given so far: {{ progress }}</template
              ><template v-if="other">
                · <RouterLink :to="toOther">{{ otherWords }}</RouterLink></template
              >
            </p>
            <PanelStrip :panels="panels" :here="place.panel" @take="acts.goTo" />
          </section>
        </div>

        <section class="hand" aria-label="Spot in hand">
          <h2>
            {{ exposure?.name }}<template v-if="spot.place"> · section {{ spot.place }}</template>
          </h2>
          <p class="quiet">{{ asksFor }}</p>
          <AskList
            v-if="spot.asks.length > 1"
            :asks="spot.asks"
            :here="place.ask"
            :code="panel.code"
            @take="acts.pickAsk"
          />
          <MeasureTable
            v-if="ask && together.length"
            :key="at"
            :asks="together"
            :at="at"
            :instruments="sitting.instruments"
            :is-paused="noting !== null"
            @keep="acts.keepMeasured"
          />
          <AnswerKeys
            v-else-if="ask"
            :ask="ask"
            :at="at"
            :code="panel.code"
            :is-paused="noting !== null"
            :in-words="sitting.grade_school === 'words'"
            :same="same"
            @answer="acts.answer"
          />
          <WorkedOutList
            v-if="by === 'hands'"
            :here="spot.worked_out"
            :last="justMeasured"
            :is-last-here="justMeasured?.panel === panel.code && justMeasured.exposure === spot.exposure"
          />
          <p v-if="spot.asks[0]?.note && !noting" class="note"><b>Note:</b> {{ spot.asks[0].note }}</p>
          <NoteForm
            v-if="noting"
            v-model="noteText"
            :panel="noting.panel"
            :exposure="names.get(noting.exposure)?.short_name ?? noting.exposure"
            @keep="keepNote"
            @leave="noting = null"
          />
          <div v-else class="row">
            <button class="press" @click="acts.takeBack"><u>U</u>&nbsp;take back</button>
            <button class="press" @click="openNote"><u>N</u>&nbsp;note</button>
            <button
              v-if="isDrawn"
              class="press"
              :aria-expanded="isShowingDrawings"
              @click="isShowingDrawings = !isShowingDrawings"
            >
              <u>W</u>&nbsp;what they look like
            </button>
            <button class="press" :aria-expanded="isShowingKeys" @click="isShowingKeys = !isShowingKeys">
              ? keys
            </button>
          </div>
          <PhotoBox
            v-if="inView"
            ref="photo-box"
            :trial-id="trialId"
            :in-view="inView"
            :test-name="exposure?.short_name ?? ''"
            :is-read="spot.asks.every((each) => each.value != null)"
            :is-again="panel.turn > 0"
          />
          <ReadKeys v-if="isShowingKeys && ask" :response="ask.response" />
          <p class="said" role="status">{{ said }}</p>
          <p v-if="sitting.is_simulated" class="quiet">
            Demo trial: the readings already here are simulated.
          </p>
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: 24px;
  align-items: start;
}
.left {
  display: flex;
  flex-direction: column;
  gap: 18px;
  min-width: 0;
}
.hand {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.note {
  padding: 8px 10px;
  border-left: 3px solid var(--due);
}
.said {
  min-height: 22px;
  font-weight: 600;
}
@media (max-width: 1000px) {
  .bench {
    grid-template-columns: minmax(0, 1fr);
  }
}
/* The spot in hand follows the drawing; the strip of panels goes below, and nothing hides under the keys. */
@media (max-width: 640px) {
  .page {
    padding-bottom: 200px;
  }
  .left {
    display: contents;
  }
  .drawing {
    order: 1;
  }
  .hand {
    order: 2;
  }
  /* Numbers are typed: their boxes come before the drawing. */
  .measuring .hand {
    order: 0;
  }
  .left > section:last-child {
    order: 3;
  }
}
</style>
