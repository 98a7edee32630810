<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, body, wordsOf, type Schemas } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useOpenTrial } from '@/app/openTrial'
import { shortFingerprint } from '@/kit/fingerprint'
import { speciesName } from '@/kit/species'
import StateView from '@/kit/StateView.vue'
import BoardRow from './BoardRow.vue'
import DeviationForm from './DeviationForm.vue'
import type { Board, Design } from './model'
import SheetsToPrint from './SheetsToPrint.vue'
import StartTrial from './StartTrial.vue'
import TrialHistory from './TrialHistory.vue'

const open = useOpenTrial()
const trialId = computed(() => open.summary?.trial.id ?? 0)
const path = computed(() => ({ trial_id: trialId.value }))
const loaded = useLoaded(() =>
  body(api.GET('/api/trials/{trial_id}/design', { params: { path: path.value } })),
)
const { data: design, trouble: loadTrouble } = loaded

const route = useRoute()
const selected = ref<string | null>(null)
/** The panel that another page says is to be replaced. */
const toReplace = computed(() => String(route.query.replace ?? ''))
const trouble = ref('')
const isBusy = ref(false)
const boards = computed(() => design.value?.boards ?? [])
const cutBoards = computed(() => boards.value.filter((board) => board.panels.length))
const slips = computed(() => design.value?.slips ?? [])
const hasPanels = computed(() => cutBoards.value.length > 0)
const nPanels = computed(() => cutBoards.value.reduce((sum, board) => sum + board.panels.length, 0))
const isStarted = computed(() => design.value?.started_at != null)
const scaleMm = computed(() =>
  Math.max(1000, ...boards.value.map((board) => Math.max(board.length_mm ?? 0, board.needed_mm ?? 0))),
)
const startedOn = computed(() =>
  new Date(design.value?.started_at ?? 0).toLocaleDateString('en-GB', {
    day: 'numeric',
    month: 'long',
    year: 'numeric',
  }),
)

/** Send a change; what went wrong in words, or an empty text. */
async function change(request: () => Promise<Design>): Promise<string> {
  try {
    design.value = await request()
    await open.load(trialId.value)
    return ''
  } catch (error) {
    return wordsOf(error)
  }
}
const measure = (board: Board, fields: Schemas['PatchedMeasuresRequest']) =>
  change(() =>
    body(
      api.PATCH('/api/trials/{trial_id}/boards/{board_id}', {
        params: { path: { ...path.value, board_id: board.id } },
        body: fields,
      }),
    ),
  )
const deviate = (deviation: Schemas['NewDeviationRequest']) =>
  change(() =>
    body(api.POST('/api/trials/{trial_id}/deviations', { params: { path: path.value }, body: deviation })),
  )

async function start(because: string): Promise<void> {
  isBusy.value = true
  trouble.value = await change(() =>
    body(
      api.POST('/api/trials/{trial_id}/start', {
        params: { path: path.value },
        body: { unmeasured_because: because },
      }),
    ),
  )
  isBusy.value = false
}
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>Prepare</h1>
        <p v-if="hasPanels" class="quiet">
          {{ cutBoards.length }} boards, {{ nPanels }} panels, numbered in the order of cutting<template
            v-if="slips.length"
            >; {{ slips.length }} slips of glass besides</template
          >
        </p>
      </div>
      <RouterLink v-if="isStarted" class="press press-main" :to="`/trials/${trialId}/read`">Grade</RouterLink>
    </header>

    <StateView
      v-if="loadTrouble && !design"
      kind="trouble"
      title="The boards cannot be shown"
      :says="loadTrouble"
    >
      <button class="press press-main" @click="loaded.load">Try again</button>
    </StateView>
    <StateView v-else-if="!design" kind="busy" title="Laying the boards out…" />
    <StateView
      v-else-if="boards.length === 0"
      title="No boards yet"
      says="Choose the wood and the number of boards; then measure what you have."
    >
      <RouterLink class="press press-main" :to="`/trials/${trialId}/design`">Go to Design</RouterLink>
    </StateView>
    <div v-else class="split">
      <section class="boards" aria-label="Boards to cut">
        <p v-if="!hasPanels" class="sheet hint">
          Measure your boards now and the design is drawn to fit them, or
          <RouterLink :to="`/trials/${trialId}/design`">draw lots</RouterLink> first and buy boards of the
          length that it needs.
        </p>
        <BoardRow
          v-for="board in boards"
          :key="board.id"
          :board="board"
          :design="design"
          :scale-mm="scaleMm"
          :selected="selected"
          :send="measure"
          @pick="(code) => (selected = code)"
        />
      </section>
      <div class="side">
        <section class="sheet part" aria-labelledby="record">
          <h2 id="record">{{ isStarted ? 'The record' : 'Start' }}</h2>
          <template v-if="isStarted">
            <p>
              Started on {{ startedOn }}. Sealed as
              <span class="mono" :title="design.fingerprint">{{ shortFingerprint(design.fingerprint) }}</span>
              <small class="quiet term">the record’s fingerprint, SHA-256</small>
            </p>
            <p v-if="design.record_state === 'intact'">
              Design, build-ups and protocol are as they were then.
            </p>
            <p v-else-if="design.record_state === 'broken'" class="late" role="alert">
              What is stored no longer agrees with its seal: somebody changed it outside Nublet. Compare it
              with a backup before you trust the evidence.
            </p>
            <p v-else class="quiet">It started before records were kept.</p>
          </template>
          <template v-else>
            <StartTrial
              v-if="open.summary"
              :trial="open.summary.trial"
              :boards="cutBoards"
              :n-slips="slips.length"
              :n-short="design.n_short"
              :is-busy="isBusy"
              :trouble="trouble"
              @start="start"
            />
          </template>
        </section>
        <SheetsToPrint v-if="hasPanels || slips.length" :trial-id="trialId" :boards="cutBoards" />
        <section v-if="isStarted" id="deviations" class="sheet part" aria-labelledby="deviations-title">
          <h2 id="deviations-title">Deviations</h2>
          <p v-if="design.deviations.length === 0" class="quiet">Everything went as recorded.</p>
          <ol v-else class="deviations">
            <li v-for="deviation in design.deviations" :key="deviation.id">
              <strong>{{ deviation.says }}</strong>
              <span>{{ deviation.reason }}</span>
              <small class="quiet"
                >{{ deviation.recorded_by }}, {{ new Date(deviation.at).toLocaleString('en-GB') }}</small
              >
            </li>
          </ol>
          <TrialHistory :trial-id="trialId" />
          <DeviationForm
            :trial-id="trialId"
            :boards="cutBoards"
            :slips="slips"
            :selected="selected"
            :to-replace="toReplace"
            :send="deviate"
          />
        </section>
      </div>
    </div>
    <p v-if="hasPanels" class="quiet">
      Woods: {{ [...new Set(cutBoards.map((board) => speciesName(board.species)))].join(', ') }}. Shaded ends
      are trimmed off; crossed stretches are sawn around. Numbers count the panels of a board in the order of
      cutting.
    </p>
  </div>
</template>

<style scoped>
.term {
  display: block;
}
.split {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 380px;
  gap: 26px;
  align-items: start;
}
.boards {
  display: flex;
  flex-direction: column;
  gap: 16px;
}
.hint {
  padding: 10px 16px;
  border-left: 4px solid var(--due);
}
.side {
  display: flex;
  flex-direction: column;
  gap: 18px;
}
.part {
  display: flex;
  flex-direction: column;
  align-items: stretch;
  gap: 10px;
  padding: 16px;
}
.deviations {
  margin: 0;
  padding-left: 20px;
}
.deviations li + li {
  margin-top: 8px;
}
.deviations span,
.deviations small {
  display: block;
}
@media (max-width: 1100px) {
  .split {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
