<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, body, wordsOf } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useOpenTrial } from '@/app/openTrial'
import PanelDrawing from '@/kit/PanelDrawing.vue'
import StateView from '@/kit/StateView.vue'
import { figureOf, quantityOf } from '@/kit/units'
import { woodTone } from '@/kit/wood'

const open = useOpenTrial()
const trial = computed(() => open.summary?.trial)
const path = computed(() => ({ trial_id: trial.value?.id ?? 0 }))
const design = useLoaded(() =>
  body(api.GET('/api/trials/{trial_id}/design', { params: { path: path.value } })),
)
const { data: standing, trouble: loadTrouble } = design

const chosen = ref<string | null>(null)
const seed = ref<number | null>(null)
const trouble = ref('')
const isBusy = ref(false)

const exposures = computed(
  () =>
    new Map(
      open.reference?.protocols
        .find((protocol) => protocol.id === trial.value?.protocol)
        ?.exposures.map((exposure) => [exposure.id, exposure.short_name]),
    ),
)
const panels = computed(
  () => standing.value?.boards.flatMap((board) => board.panels.map((panel) => ({ panel, board }))) ?? [],
)
const shown = computed(() => panels.value.find(({ panel }) => panel.code === chosen.value) ?? panels.value[0])
const spots = computed(
  () =>
    shown.value?.panel.spots.map((spot) => ({
      ...spot,
      label: exposures.value.get(spot.exposure) ?? spot.exposure,
    })) ?? [],
)
const nBoards = computed(() => standing.value?.boards.length ?? 0)
const nSystems = computed(() => standing.value?.boards[0]?.panels.length ?? 0)

async function draw(): Promise<void> {
  isBusy.value = true
  trouble.value = ''
  try {
    standing.value = await body(
      api.POST('/api/trials/{trial_id}/design', { params: { path: path.value }, body: { seed: seed.value } }),
    )
    chosen.value = null
    if (trial.value) await open.load(trial.value.id)
  } catch (error) {
    trouble.value = wordsOf(error)
  } finally {
    isBusy.value = false
  }
}
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>Design</h1>
        <p v-if="nBoards" class="quiet">
          Complete blocks: {{ nBoards }} boards, each carrying all {{ nSystems }} build-ups once, in an order
          drawn by lot
        </p>
      </div>
      <span v-if="nBoards" class="quiet print"
        >seed <span class="mono">{{ standing?.seed }}</span> · fingerprint
        <span class="mono">{{ standing?.fingerprint.slice(0, 12) }}</span></span
      >
    </header>

    <StateView v-if="loadTrouble" kind="trouble" title="The design cannot be shown" :says="loadTrouble">
      <button class="press press-main" @click="design.load">Try again</button>
    </StateView>
    <StateView v-else-if="!standing" kind="busy" title="Fetching the design…" />
    <template v-else>
      <StateView
        v-if="nBoards === 0"
        title="No panels yet"
        says="Drawing lots decides which panel of each board gets which build-up, gives every panel a blind code, and places the spots."
      >
        <button class="press press-main" :disabled="isBusy" @click="draw">Draw lots</button>
        <label class="row quiet"
          >Seed, if you want the same design again
          <el-input-number
            v-model="seed"
            :min="0"
            :max="9007199254740991"
            :controls="false"
            placeholder="drawn too"
        /></label>
      </StateView>
      <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>

      <template v-if="shown">
        <p class="key sheet">
          <strong>This page is the key.</strong> Write only the code on the back of a panel, and keep this
          page from the judges.
        </p>
        <div class="split">
          <section class="boards" aria-label="Boards and their panels">
            <div v-for="board in standing.boards" :key="board.name" class="board">
              <h2>{{ board.name }}</h2>
              <div class="plank">
                <button
                  v-for="panel in board.panels"
                  :key="panel.code"
                  class="piece"
                  :class="{ chosen: panel.code === shown.panel.code }"
                  :style="{
                    background: woodTone(board.species).ground,
                    borderColor: woodTone(board.species).grain,
                  }"
                  :aria-pressed="panel.code === shown.panel.code"
                  @click="chosen = panel.code"
                >
                  <b class="mono">{{ panel.code }}</b>
                  <span>{{ panel.build_up.name }}</span>
                </button>
              </div>
            </div>
          </section>
          <aside class="sheet detail">
            <h2>
              Panel <span class="mono">{{ shown.panel.code }}</span>
            </h2>
            <p>{{ shown.panel.build_up.name }} · {{ shown.board.name }}, piece {{ shown.panel.position }}</p>
            <PanelDrawing
              :code="shown.panel.code"
              :species="shown.board.species"
              :length-mm="standing.panel_length_mm"
              :width-mm="standing.panel_width_mm"
              :spots="spots"
              :text-scale="1.3"
            />
            <p class="quiet">
              {{ figureOf('millimetres', standing.panel_length_mm) }} ×
              {{ quantityOf('millimetres', standing.panel_width_mm) }}, length along the grain. Spots are
              placed by lot on every panel.
            </p>
            <template v-if="!standing.has_readings">
              <button class="press" :disabled="isBusy" @click="draw">Draw lots again</button>
            </template>
            <p v-else class="quiet">Panels have been graded: the design stands.</p>
            <RouterLink class="press press-main" :to="`/trials/${trial?.id}/read`">Grade</RouterLink>
          </aside>
        </div>
      </template>
    </template>
  </div>
</template>

<style scoped>
.print {
  font-size: 13px;
}
.key {
  padding: 10px 16px;
  border-left: 4px solid var(--due);
}
.split {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 380px;
  gap: 24px;
  align-items: start;
}
.boards {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.board h2 {
  font-size: 14px;
  color: var(--quiet);
}
.plank {
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: minmax(0, 1fr);
  gap: 3px;
}
.piece {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  min-height: 52px;
  min-width: 0;
  padding: 4px 6px;
  border: 1px solid;
  color: #1d2321;
  font-size: 12px;
  line-height: 1.15;
  text-align: left;
  cursor: pointer;
}
.piece b {
  font-size: 15px;
}
.piece span {
  max-width: 100%;
  overflow-wrap: break-word;
}
.chosen {
  outline: 3px solid var(--ink);
  outline-offset: -1px;
}
.detail {
  position: sticky;
  top: 16px;
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 16px;
}
@media (max-width: 1100px) {
  .split {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media (max-width: 900px) {
  .plank {
    grid-auto-flow: row;
    grid-template-columns: repeat(4, minmax(0, 1fr));
  }
}
</style>
