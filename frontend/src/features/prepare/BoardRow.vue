<script setup lang="ts">
import { computed, ref } from 'vue'
import { useKeptDraft } from '@/app/keptDraft'
import BoardCut from '@/kit/BoardCut.vue'
import QuantityInput from '@/kit/QuantityInput.vue'
import { quantityOf, said } from '@/kit/units'

import { DEFECTS, measuresOf, measuresToSend, type Board, type Design, type MeasuresDraft } from './model'

/** A board drawn to scale with its panels, and its measures to fill in until the trial starts. */
const props = defineProps<{
  board: Board
  design: Design
  scaleMm: number
  selected: string | null
  send: (board: Board, fields: Exclude<ReturnType<typeof measuresToSend>, string>) => Promise<string>
}>()
defineEmits<{ pick: [code: string] }>()

const kept = useKeptDraft<MeasuresDraft>()
const { draft, isChanged } = kept
const isMeasuring = ref(false)
const isBusy = ref(false)
const trouble = ref('')
const isFixed = computed(() => props.design.started_at != null)
const measures = computed(() => {
  const { length_mm, width_mm, needed_mm } = props.board
  if (length_mm != null)
    return `${quantityOf('millimetres', length_mm)}${width_mm == null ? '' : ` × ${quantityOf('millimetres', width_mm)}`}`
  return needed_mm == null ? 'not measured' : `not measured: needs ${quantityOf('millimetres', needed_mm)}`
})

/** Where the chosen panel is sawn, in words. */
const chosen = computed(() => {
  const panel = props.board.panels.find((found) => found.code === props.selected)
  if (!panel) return ''
  if (panel.offset_mm == null) return `Panel ${panel.code} finds no room on this board.`
  const end = panel.offset_mm + props.design.panel_length_mm
  const lane = props.board.panels.some((found) => found.row) ? `, lane ${(panel.row ?? 0) + 1}` : ''
  const instead = panel.replaces ? `, in place of ${panel.replaces}` : ''
  return `Panel ${panel.code}: ${quantityOf('millimetres', panel.offset_mm)} to ${quantityOf('millimetres', end)}${lane}${instead}${panel.is_spoiled ? ', spoiled' : ''}`
})

function measure(): void {
  kept.show(`board.${props.board.id}`, measuresOf(props.board))
  isMeasuring.value = true
}

async function keep(): Promise<void> {
  if (!draft.value) return
  const fields = measuresToSend(draft.value)
  if (typeof fields === 'string') {
    trouble.value = fields
    return
  }
  isBusy.value = true
  trouble.value = await props.send(props.board, fields)
  isBusy.value = false
  if (trouble.value) return
  kept.sent(measuresOf(props.board))
  isMeasuring.value = false
}

function leave(): void {
  kept.leave()
  isMeasuring.value = false
  trouble.value = ''
}
</script>

<template>
  <article class="board-row" :aria-label="board.name">
    <header class="row">
      <h3>{{ board.name }}</h3>
      <span class="quiet">{{ measures }}</span>
      <button
        v-if="!isFixed && !isMeasuring"
        class="press small"
        :aria-label="`Measure ${board.name}`"
        @click="measure"
      >
        Measure
      </button>
    </header>
    <p v-if="board.says.length" class="late" role="alert">{{ said(board.says) }}</p>
    <form v-if="isMeasuring && draft" class="sheet measures" @submit.prevent="keep">
      <div class="row sizes">
        <label :for="`name-${board.id}`">Name</label>
        <el-input :id="`name-${board.id}`" v-model="draft.name" maxlength="60" class="name" />
        <label :for="`length-${board.id}`">Length</label>
        <QuantityInput :id="`length-${board.id}`" v-model="draft.length_mm" quantity="millimetres" />
        <label :for="`width-${board.id}`">Width</label>
        <QuantityInput :id="`width-${board.id}`" v-model="draft.width_mm" quantity="millimetres" />
      </div>
      <div v-for="(defect, index) in draft.defects" :key="index" class="row sizes">
        <el-select v-model="defect.kind" class="kind" :aria-label="`Defect ${index + 1}`">
          <el-option v-for="kind in DEFECTS" :key="kind.id" :value="kind.id" :label="kind.name" />
        </el-select>
        <label :for="`from-${board.id}-${index}`">from</label>
        <QuantityInput
          :id="`from-${board.id}-${index}`"
          v-model="defect.from_mm"
          quantity="millimetres"
          :label="`Defect ${index + 1} from`"
        />
        <label :for="`to-${board.id}-${index}`">to</label>
        <QuantityInput
          :id="`to-${board.id}-${index}`"
          v-model="defect.to_mm"
          quantity="millimetres"
          :label="`Defect ${index + 1} to`"
        />
        <button
          type="button"
          class="press"
          :aria-label="`Drop defect ${index + 1}`"
          @click="draft.defects.splice(index, 1)"
        >
          Drop
        </button>
      </div>
      <p v-if="draft.defects.length" class="quiet">Measured from the left end, across the whole width.</p>
      <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
      <div class="row">
        <button
          type="button"
          class="press"
          @click="draft.defects.push({ from_mm: null, to_mm: null, kind: 'knot' })"
        >
          Add a defect
        </button>
        <button class="press press-main" :disabled="isBusy">Keep measures</button>
        <button type="button" class="press" @click="leave">
          {{ isChanged ? 'Leave changes' : 'Close' }}
        </button>
      </div>
    </form>
    <BoardCut
      :name="board.name"
      :species="board.species"
      :length-mm="board.length_mm"
      :width-mm="board.width_mm"
      :needed-mm="board.needed_mm ?? design.panel_length_mm"
      :scale-mm="scaleMm"
      :panel-length-mm="design.panel_length_mm"
      :panel-width-mm="design.panel_width_mm"
      :kerf-mm="design.kerf_mm"
      :end-trim-mm="design.end_trim_mm"
      :end-piece-mm="design.end_piece_mm"
      :panels="board.panels"
      :defects="board.defects"
      :selected="selected"
      @pick="(code) => $emit('pick', code)"
    />
    <p v-if="chosen" class="quiet" role="status">{{ chosen }}</p>
  </article>
</template>

<style scoped>
.board-row {
  display: flex;
  flex-direction: column;
  gap: 6px;
}
h3 {
  margin: 0;
  font-size: 15px;
}
.small {
  margin-left: auto;
  padding: 0 12px;
}
.measures {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 14px;
}
.sizes :deep(.quantity) {
  width: 116px;
}
.name {
  width: 170px;
}
.kind {
  width: 140px;
}
</style>
