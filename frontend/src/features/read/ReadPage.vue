<script setup lang="ts">
import { useEventListener, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useJudging } from '@/app/judging'
import { isForScreen } from '@/app/screenKeys'
import ChoiceBar from '@/kit/ChoiceBar.vue'
import { stepOf } from '@/kit/grades'
import PanelDrawing from '@/kit/PanelDrawing.vue'
import StateView from '@/kit/StateView.vue'
import GradeKeys from './GradeKeys.vue'
import { ARROWS, spotId, type Arrow } from './model'
import PanelStrip from './PanelStrip.vue'
import RefusedEntries from './RefusedEntries.vue'
import { useSitting, type Target } from './useSitting'

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
// The spot that a note is being written for: it stays that one when another is taken in hand.
const noting = ref<Target | null>(null)
const isShowingKeys = ref(false)
const noteText = ref('')
const noteBox = ref<{ focus: () => void } | null>(null)

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
const saved = computed(() => {
  const n = queue.waiting.length
  if (queue.status === 'saving') return `Saving ${n}…`
  if (queue.status === 'kept') return `${n} kept here, not sent yet`
  return `All ${nGraded.value} readings saved`
})

watch([trialId, look], () => void acts.load(), { immediate: true })
watch(
  () => queue.status,
  (now) => now === 'saved' && void judging.load(),
)

function openNote(): void {
  noteText.value = spot.value?.note ?? ''
  noting.value = acts.target()
  void nextTick(() => noteBox.value?.focus())
}

function keepNote(): void {
  if (noting.value) acts.note(noteText.value, noting.value)
  noting.value = null
}

function onKey(event: KeyboardEvent): void {
  if (noting.value || !isForScreen(event)) return
  const key = event.key
  const step = stepOf(key)
  if (step) {
    // A held key must not grade the next spots too.
    if (!event.repeat) acts.grade(step.value)
  } else if ((ARROWS as readonly string[]).includes(key)) acts.move(key as Arrow)
  else if (key.toLowerCase() === 'u') acts.takeBack()
  else if (key.toLowerCase() === 'n') openNote()
  else if (key === '[' || key === 'PageUp') acts.turn(-1)
  else if (key === ']' || key === 'PageDown') acts.turn(1)
  else if (key === '?') isShowingKeys.value = !isShowingKeys.value
  else return
  event.preventDefault()
}
useEventListener(window, 'keydown', onKey)
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
      <header class="page-head">
        <div>
          <h1>
            Panel <span class="mono">{{ panel.code }}</span>
          </h1>
          <p class="quiet">
            {{ sitting.trial_name }} ·
            {{ sitting.look.after_min > 0 ? `look at ${sitting.look.name}` : 'look at lifting' }} · panel
            {{ place.panel + 1 }} of {{ panels.length }} in your order · spot {{ place.spot + 1 }} of
            {{ panel.spots.length }}<template v-if="spot.side === 'back'"> · on the back</template>
          </p>
        </div>
        <div class="standing">
          <span role="status" :class="{ caution: queue.status === 'kept' }">{{ saved }}</span>
          <span class="judge">Judge: {{ sitting.judge.split(' ')[0] }}</span>
        </div>
      </header>

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
          <form v-if="noting" class="field" @submit.prevent="keepNote" @keydown.esc="noting = null">
            <label for="note"
              >Note on panel {{ noting.panel }},
              {{ names.get(noting.exposure)?.short_name ?? noting.exposure }}</label
            >
            <el-input
              id="note"
              ref="noteBox"
              v-model="noteText"
              maxlength="4000"
              placeholder="Faint ring, gone when tilted"
            />
            <div class="row">
              <button class="press press-main">Keep note</button>
              <button type="button" class="press" @click="noting = null">Leave it</button>
            </div>
          </form>
          <div v-else class="row">
            <button class="press" @click="acts.takeBack"><u>U</u>&nbsp;take back</button>
            <button class="press" @click="openNote"><u>N</u>&nbsp;note</button>
            <button class="press" :aria-expanded="isShowingKeys" @click="isShowingKeys = !isShowingKeys">
              ? keys
            </button>
          </div>
          <dl v-if="isShowingKeys" class="sheet all-keys">
            <dt>{{ sitting.grades.at(-1)?.grade }} – {{ sitting.grades[0]?.grade }}</dt>
            <dd>grade the spot and move on</dd>
            <dt>← → ↑ ↓</dt>
            <dd>move to another spot</dd>
            <dt>[ and ]</dt>
            <dd>previous and next panel</dd>
            <dt>U</dt>
            <dd>take the last entry back</dd>
            <dt>N</dt>
            <dd>write a note</dd>
          </dl>
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
.standing {
  display: flex;
  flex-direction: column;
  align-items: flex-end;
  color: var(--quiet);
}
.judge {
  color: var(--accent);
  font-weight: 700;
}
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
.all-keys {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 14px;
  margin: 0;
  padding: 12px;
}
.all-keys dt {
  font-family: var(--mono);
}
.all-keys dd {
  margin: 0;
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
