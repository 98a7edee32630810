<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useKeptDraft } from '@/app/keptDraft'
import QuantityInput from '@/kit/QuantityInput.vue'
import type { Schemas } from '@/api/client'
import { speciesName } from '@/kit/species'
import {
  changesSince,
  DEVIATION_KINDS,
  deviationToSend,
  EMPTY_DEVIATION,
  type Board,
  type DeviationDraft,
} from './model'

/** Record what went otherwise than the frozen design says. */
const props = defineProps<{
  trialId: number
  boards: readonly Board[]
  /** Pieces of glass, which come from no board. */
  slips: readonly { code: string; is_spoiled: boolean; replaces?: string | null }[]
  /** The panel that was pointed at on its board. */
  selected: string | null
  /** The panel that is to be replaced, where another page said so. */
  toReplace?: string
  send: (deviation: Schemas['NewDeviationRequest']) => Promise<string>
}>()

const kept = useKeptDraft<DeviationDraft>()
const { draft } = kept
kept.show(`deviation.${props.trialId}`, { ...EMPTY_DEVIATION })
const trouble = ref('')
const isBusy = ref(false)
/** A spoiled panel may still be replaced, until it has been. */
const codes = computed(() => {
  const panels = [...props.boards.flatMap((board) => board.panels), ...props.slips]
  const replaced = new Set(panels.map((panel) => panel.replaces))
  return panels
    .filter(
      (panel) =>
        !panel.is_spoiled ||
        draft.value?.kind === 'noted' ||
        (draft.value?.kind === 'panel_replaced' && !replaced.has(panel.code)),
    )
    .map((panel) => panel.code)
    .sort()
})
const needsPanel = computed(() => !['board_swapped', 'board_added'].includes(draft.value?.kind ?? ''))
const woods = computed(() => [...new Set(props.boards.map((board) => board.species))])
watch(
  woods,
  (all) => {
    if (draft.value && !all.includes(draft.value.species)) draft.value.species = all[0] ?? ''
  },
  { immediate: true },
)
const boardOfPanel = computed(() =>
  props.boards.find((board) => board.panels.some((panel) => panel.code === draft.value?.panel)),
)
const otherBoards = computed(() =>
  props.boards.filter(
    (board) => board.id !== boardOfPanel.value?.id && board.species === boardOfPanel.value?.species,
  ),
)

watch(
  () => [props.toReplace, codes.value.length],
  () => {
    if (!props.toReplace || !draft.value || draft.value.panel === props.toReplace) return
    Object.assign(draft.value, { kind: 'panel_replaced', panel: props.toReplace })
  },
  { immediate: true },
)
watch(
  () => props.selected,
  (code) => {
    if (code && draft.value && codes.value.includes(code)) draft.value.panel = code
  },
)

async function record(): Promise<void> {
  if (!draft.value) return
  const was = { ...draft.value }
  isBusy.value = true
  trouble.value = await props.send(deviationToSend(was))
  isBusy.value = false
  if (trouble.value) return
  // What was chosen for the next one while this was on its way stays.
  const next = changesSince(was, draft.value)
  kept.sent({ ...EMPTY_DEVIATION })
  Object.assign(draft.value, next)
}
</script>

<template>
  <form v-if="draft" class="deviation" @submit.prevent="record">
    <fieldset>
      <legend>What happened</legend>
      <label v-for="kind in DEVIATION_KINDS" :key="kind.id" class="choice">
        <input v-model="draft.kind" type="radio" name="deviation-kind" :value="kind.id" />
        <span
          >{{ kind.name }} <span class="quiet">· {{ kind.says }}</span></span
        >
      </label>
    </fieldset>
    <div v-if="needsPanel" class="field">
      <label for="deviation-panel">Panel{{ slips.length ? ' or slip' : '' }}</label>
      <el-select
        id="deviation-panel"
        v-model="draft.panel"
        filterable
        default-first-option
        :clearable="draft.kind === 'noted'"
        :placeholder="draft.kind === 'noted' ? 'none: the whole trial' : 'its code'"
      >
        <el-option v-for="code in codes" :key="code" :value="code" :label="code" />
      </el-select>
    </div>
    <div v-if="draft.kind === 'panel_replaced'" class="field">
      <label for="deviation-more">More to replace at once</label>
      <el-select
        id="deviation-more"
        v-model="draft.more"
        multiple
        filterable
        placeholder="none: a judge can then tell which one came"
      >
        <el-option
          v-for="code in codes.filter((one) => one !== draft?.panel)"
          :key="code"
          :value="code"
          :label="code"
        />
      </el-select>
      <span class="quiet">Wait for the next where you can: two that come together cannot be told apart.</span>
    </div>
    <div v-if="draft.kind === 'panel_replaced' && boardOfPanel" class="field">
      <label for="deviation-source">The new one is cut from</label>
      <el-select id="deviation-source" v-model="draft.board">
        <el-option :value="0" label="The same board" />
        <el-option v-for="board in otherBoards" :key="board.id" :value="board.id" :label="board.name" />
      </el-select>
    </div>
    <template v-if="!needsPanel">
      <div v-if="draft.kind === 'board_added'" class="field">
        <label for="deviation-wood">Wood</label>
        <el-select id="deviation-wood" v-model="draft.species">
          <el-option v-for="wood in woods" :key="wood" :value="wood" :label="speciesName(wood)" />
        </el-select>
      </div>
      <div v-else class="field">
        <label for="deviation-board">Board</label>
        <el-select id="deviation-board" v-model="draft.board" placeholder="which one">
          <el-option :value="0" label="Choose one" disabled />
          <el-option v-for="board in boards" :key="board.id" :value="board.id" :label="board.name" />
        </el-select>
      </div>
      <div class="row sizes">
        <label for="deviation-length">The new plank’s length</label>
        <QuantityInput id="deviation-length" v-model="draft.length_mm" quantity="millimetres" />
        <label for="deviation-width">width</label>
        <QuantityInput id="deviation-width" v-model="draft.width_mm" quantity="millimetres" />
      </div>
    </template>
    <div class="field">
      <label for="deviation-reason">Why</label>
      <el-input
        id="deviation-reason"
        v-model="draft.reason"
        type="textarea"
        :rows="2"
        maxlength="2000"
        placeholder="Dropped on its face when the covers came off"
      />
    </div>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
    <div class="row">
      <button class="press press-main" :disabled="isBusy">Record deviation</button>
      <span class="quiet">A record is only ever added to.</span>
    </div>
  </form>
</template>

<style scoped>
.deviation {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.sizes :deep(.quantity) {
  width: 110px;
}
</style>
