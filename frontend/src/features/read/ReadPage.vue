<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useJudging } from '@/app/judging'
import { queueWords } from '@/app/queueWords'
import ChoiceBar from '@/kit/ChoiceBar.vue'
import PanelDrawing from '@/kit/PanelDrawing.vue'
import StateView from '@/kit/StateView.vue'
import GradeKeys from './GradeKeys.vue'
import { spotId } from './model'
import NoteForm from './NoteForm.vue'
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

const isNarrow = useMediaQuery('(max-width: 560px)')
const {
  noting,
  words: noteText,
  open: openNote,
  keep: keepNote,
} = useNote({ target: acts.target, standing: () => spot.value?.note ?? '', keep: acts.note })
const isShowingKeys = ref(false)

const names = computed(() => new Map(sitting.value?.exposures.map((found) => [found.id, found])))
const exposure = computed(() => names.value.get(spot.value?.exposure ?? ''))
const drawn = computed(
  () =>
    panel.value?.spots
      .filter((found) => found.side === spot.value?.side)
      .map((found) => ({
        ...found,
        id: spotId(found),
        label: names.value.get(found.exposure)?.short_name ?? found.exposure,
      })) ?? [],
)
const saved = computed(() => queueWords(queue, `All ${nGraded.value} readings saved`))

watch([trialId, look], () => void acts.load(), { immediate: true })
watch(
  () => queue.status,
  (now) => now === 'saved' && void judging.load(),
)

useReadKeys(
  { ...acts, openNote, toggleHelp: () => (isShowingKeys.value = !isShowingKeys.value) },
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
          <section class="sheet drawing">
            <PanelDrawing
              :code="panel.code"
              :species="panel.species"
              :length-mm="sitting.panel_length_mm"
              :width-mm="sitting.panel_width_mm"
              :spots="drawn"
              :areas="panel.areas"
              :selected="spotId(spot)"
              :text-scale="isNarrow ? 1.5 : 1"
              @pick="acts.pick"
            />
            <div class="row under">
              <button class="press" aria-label="Previous panel" @click="acts.turn(-1)">‹ Panel</button>
              <button class="press" aria-label="Next panel" @click="acts.turn(1)">Panel ›</button>
              <ChoiceBar
                class="looks"
                label="Look"
                :options="sitting.looks"
                :chosen="sitting.look.id"
                @choose="(id) => router.replace({ name: 'read', params: { trialId, look: id } })"
              />
            </div>
          </section>
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
.drawing {
  padding: 20px 18px 14px;
}
.under {
  justify-content: flex-start;
  margin-top: 14px;
  padding-top: 14px;
  border-top: 1px solid var(--hairline);
}
.looks {
  margin-left: auto;
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
