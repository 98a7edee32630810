<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useJudging } from '@/app/judging'
import { queueWords } from '@/app/queueWords'
import StateView from '@/kit/StateView.vue'
import GradeKeys from './GradeKeys.vue'
import NoteForm from './NoteForm.vue'
import PanelInHand from './PanelInHand.vue'
import PanelStrip from './PanelStrip.vue'
import ReadHead from './ReadHead.vue'
import ReadKeys from './ReadKeys.vue'
import RefusedEntries from './RefusedEntries.vue'
import { useReadKeys } from './useReadKeys'
import { useNote } from './useNote'
import { useSitting } from './useSitting'

const route = useRoute()
const router = useRouter()
const judging = useJudging()
const trialId = computed(() => Number(route.params.trialId))
const look = computed(() => String(route.params.look || '24h'))
const { sitting, place, trouble, said, queue, panels, panel, spot, nGraded, nSpots, ...acts } = useSitting(
  () => trialId.value,
  () => look.value,
)

const {
  noting,
  words: noteText,
  open: openNote,
  keep: keepNote,
} = useNote({ target: acts.target, standing: () => spot.value?.note ?? '', keep: acts.note })
const isShowingKeys = ref(false)

const names = computed(() => new Map(sitting.value?.exposures.map((found) => [found.id, found])))
const exposure = computed(() => names.value.get(spot.value?.exposure ?? ''))
const saved = computed(() => queueWords(queue, `All ${nGraded.value} readings saved`))

watch([trialId, look], () => void acts.load(), { immediate: true })
watch(
  () => queue.status,
  (now) => now === 'saved' && void judging.load(),
)

useReadKeys(
  { ...acts, openNote, toggleHelp: () => (isShowingKeys.value = !isShowingKeys.value) },
  () => sitting.value?.grades ?? [],
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

      <div class="bench">
        <div class="left">
          <PanelInHand
            class="drawing"
            :sitting="sitting"
            :panel="panel"
            :spot="spot"
            :names="names"
            @pick="acts.pick"
            @turn="acts.turn"
            @look="(id) => router.replace({ name: 'read', params: { trialId, look: id } })"
          />
          <section aria-label="Your panels">
            <p class="quiet">Your panels, in your order: {{ nGraded }} of {{ nSpots }} spots graded</p>
            <PanelStrip :panels="panels" :here="place.panel" @take="acts.goTo" />
          </section>
        </div>

        <section class="hand" aria-label="Spot in hand">
          <h2>
            {{ exposure?.name }}<template v-if="spot.place"> · section {{ spot.place }}</template>
          </h2>
          <p class="quiet">Look square on, then with the lamp glancing. What does the mark look like now?</p>
          <GradeKeys :grades="sitting.grades" :standing="spot.grade" @grade="acts.grade" />
          <p v-if="spot.note && !noting" class="note"><b>Note:</b> {{ spot.note }}</p>
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
            <button class="press" :aria-expanded="isShowingKeys" @click="isShowingKeys = !isShowingKeys">
              ? keys
            </button>
          </div>
          <ReadKeys v-if="isShowingKeys" :grades="sitting.grades" />
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
    padding-bottom: 130px;
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
  .left > section:last-child {
    order: 3;
  }
}
</style>
