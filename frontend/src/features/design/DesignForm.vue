<script setup lang="ts">
import { computed } from 'vue'
import { words } from '@/api/declared.json'
import type { Schemas } from '@/api/client'
import QuantityInput from '@/kit/QuantityInput.vue'
import PanelSizeFields from '@/kit/PanelSizeFields.vue'
import type { DesignDraft } from './model'
import StagesFields from './StagesFields.vue'

/** The factors of the design: boards, sections, panels, spots, and how the boards are used as blocks. */
const props = defineProps<{
  buildUps: readonly Schemas['BuildUp'][]
  usualSd: number
  isFixed: boolean
  /** Whether any test of the protocol stands on glass. */
  hasSlips: boolean
}>()
const draft = defineModel<DesignDraft>({ required: true })

const SAW = [
  { id: 'kerf', field: 'kerf_mm', name: 'Kerf' },
  { id: 'end-trim', field: 'end_trim_mm', name: 'End trim' },
  { id: 'end-piece', field: 'end_piece_mm', name: 'End-grain piece' },
] as const

const nSections = computed({
  get: () => draft.value.sections.length,
  set: (n: number | null) => {
    const names = draft.value.sections
    while (names.length < (n ?? 0)) names.push('')
    names.length = n ?? 0
  },
})
const paired = computed(() => new Set(draft.value.pairs.flat()))

function addPair(): void {
  const [one, other] = props.buildUps.filter((row) => !paired.value.has(row.id))
  if (one && other) draft.value.pairs.push([one.id, other.id])
}
</script>

<template>
  <div class="form">
    <div class="field">
      <label for="n-boards">Boards of each wood</label>
      <div class="slide">
        <el-slider
          id="n-boards"
          v-model="draft.boards_per_species"
          :min="Math.min(1, draft.boards_per_species)"
          :max="Math.max(12, draft.boards_per_species)"
          :disabled="isFixed || draft.stages.length > 0"
          show-stops
          aria-label="Boards of each wood"
        />
        <output class="mono" for="n-boards">{{ draft.boards_per_species }}</output>
      </div>
      <span class="hint"
        >A board is a block: one panel of each build-up comes from it. More than 12: under Question.</span
      >
    </div>

    <StagesFields v-model="draft" :is-fixed="isFixed" />

    <div class="field">
      <label for="sd">Spread between panels, SD in grades</label>
      <QuantityInput
        id="sd"
        v-model="draft.sd"
        quantity="count"
        :placeholder="usualSd.toFixed(2)"
        :disabled="isFixed"
      />
      <span class="hint">Leave it blank to take what your finished trials show, or the usual 0.6.</span>
    </div>

    <div class="field">
      <label for="exposing">How they are exposed</label>
      <el-select id="exposing" v-model="draft.exposing" :disabled="isFixed">
        <el-option v-for="(name, id) in words.exposing" :key="id" :value="id" :label="name" />
      </el-select>
      <span class="hint" :class="{ caution: draft.exposing === 'as-ready' }">{{
        words.exposing_says[draft.exposing]
      }}</span>
    </div>

    <div v-if="hasSlips" class="field">
      <label for="slips">Slips of glass for each build-up and test</label>
      <el-input-number id="slips" v-model="draft.slip_replicates" :min="1" :max="20" :disabled="isFixed" />
      <span class="hint">A slip is a replicate of its own and comes from no board; bare wood has none.</span>
    </div>

    <PanelSizeFields v-model="draft" :is-fixed="isFixed" />

    <div class="field">
      <label for="n-sections">Sections on each panel</label>
      <el-input-number id="n-sections" v-model="nSections" :min="0" :max="24" :disabled="isFixed" />
      <span class="hint"
        >Masked parts with something on top, or with fewer coats; their order is drawn for each panel. What
        each carries is set under Build-ups.</span
      >
      <div v-if="draft.sections.length" class="row names">
        <el-input
          v-for="(_, index) in draft.sections"
          :key="index"
          v-model="draft.sections[index]"
          :aria-label="`Name of section ${index + 1}`"
          maxlength="60"
          :disabled="isFixed"
          :placeholder="['left bare', 'waxed', 'oiled twice'][index] ?? 'name'"
        />
      </div>
    </div>

    <details
      :open="
        draft.faces !== 'front' ||
        draft.panels_each > 1 ||
        draft.arrangement !== 'auto' ||
        draft.pairs.length > 0
      "
    >
      <summary>Faces, several panels, pairs, saw and blocks</summary>
      <div class="more">
        <label class="choice">
          <input
            v-model="draft.faces"
            type="checkbox"
            true-value="both"
            false-value="front"
            :disabled="isFixed"
          />
          <span>Spread the exposures over both faces <span class="quiet">· both are coated alike</span></span>
        </label>
        <div class="row">
          <label for="panels-each">Panels of each build-up on a board</label>
          <el-input-number
            id="panels-each"
            v-model="draft.panels_each"
            :min="1"
            :max="4"
            :disabled="isFixed"
          />
        </div>
        <label class="choice">
          <input
            v-model="draft.ladders"
            type="checkbox"
            true-value="spread"
            false-value="together"
            :disabled="isFixed || (draft.faces === 'front' && draft.panels_each === 1)"
          />
          <span>Spread the steps of a ladder over faces and panels</span>
        </label>
        <div class="field">
          <label for="arrangement">Blocks</label>
          <el-select id="arrangement" v-model="draft.arrangement" :disabled="isFixed">
            <el-option value="auto" label="Complete where the boards are long enough" />
            <el-option value="complete" label="Complete: every board carries all" />
            <el-option
              value="incomplete"
              label="Some on each board, every two equally often together (balanced incomplete)"
            />
          </el-select>
        </div>
        <div v-if="draft.arrangement === 'incomplete'" class="row">
          <label for="block-size">Build-ups on a board</label>
          <el-input-number
            id="block-size"
            v-model="draft.block_size"
            :min="2"
            :max="Math.max(2, buildUps.length - 1)"
            :disabled="isFixed"
          />
        </div>
        <div class="field">
          <span class="label">Cut next to each other</span>
          <div v-for="(pair, index) in draft.pairs" :key="index" class="row">
            <template v-for="side in [0, 1]" :key="side">
              <el-select
                v-model="pair[side]"
                :aria-label="`Pair ${index + 1}, build-up ${side + 1}`"
                :disabled="isFixed"
                class="half"
              >
                <el-option
                  v-for="row in buildUps"
                  :key="row.id"
                  :value="row.id"
                  :label="row.name"
                  :disabled="paired.has(row.id) && pair[side] !== row.id"
                />
              </el-select>
            </template>
            <button
              v-if="!isFixed"
              type="button"
              class="press"
              :aria-label="`Part pair ${index + 1}`"
              @click="draft.pairs.splice(index, 1)"
            >
              Part them
            </button>
          </div>
          <button
            v-if="!isFixed && buildUps.length - paired.size >= 2"
            type="button"
            class="press"
            @click="addPair"
          >
            Pair two
          </button>
        </div>
        <div class="row sizes">
          <template v-for="{ id, field, name } in SAW" :key="id">
            <label :for="id">{{ name }}</label>
            <QuantityInput :id="id" v-model="draft[field]" quantity="millimetres" :disabled="isFixed" />
          </template>
        </div>
      </div>
    </details>
  </div>
</template>

<style scoped>
.form,
.more {
  display: flex;
  flex-direction: column;
  gap: 16px;
}
.more {
  padding-top: 12px;
}
.slide {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 40px;
  gap: 18px;
  align-items: center;
  padding-left: 10px;
}
.slide output {
  font-size: 22px;
  font-weight: 700;
  text-align: right;
}
.sizes :deep(.quantity) {
  width: 96px;
}
.names :deep(.el-input) {
  width: 150px;
}
.half {
  width: 200px;
}
summary {
  min-height: 44px;
  line-height: 44px;
  font-weight: 600;
  cursor: pointer;
}
</style>
