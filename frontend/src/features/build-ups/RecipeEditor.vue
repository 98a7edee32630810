<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { useKeptDraft } from '@/app/keptDraft'
import { productName, rememberProduct } from '@/kit/ProductPicker.vue'
import LayerSection from '@/kit/LayerSection.vue'
import BuildUpFigures from './BuildUpFigures.vue'
import FindingsList from './FindingsList.vue'
import LayerRow from './LayerRow.vue'
import {
  blankLayer,
  draftOf,
  drawnOf,
  findingsAt,
  moveLayer,
  type BuildUpDetail,
  type BuildUps,
  type RecipeDraft,
} from './model'
import PreparationRow from './PreparationRow.vue'
import StackBar from './StackBar.vue'
import { useDraftCheck } from './useDraftCheck'
import { useRecipeSave } from './useRecipeSave'

const props = defineProps<{
  trialId: number
  buildUp: BuildUpDetail
  isStarted: boolean
  species?: string
  families: readonly Schemas['Family'][]
}>()
const emit = defineEmits<{ saved: [view: BuildUps, said: string]; copy: [] }>()

const kept = useKeptDraft<RecipeDraft>()
const { draft, isChanged } = kept
const checked = useDraftCheck(() => props.trialId, draft)
const assessment = computed(() => checked.assessment.value ?? props.buildUp.assessment)
const findings = computed(() => assessment.value?.findings ?? [])
const byId = computed(() => new Map(props.families.map((family) => [family.id, family])))
const pointed = ref(-1)
const bar = ref<InstanceType<typeof StackBar> | null>(null)

/** Products that the recipe names can then be named without asking the shelf. */
function rememberProducts({ recipe, layers }: BuildUpDetail): void {
  const named = [...(recipe?.layers ?? []).map((layer) => layer.product), recipe?.final_product]
  named.forEach((id, index) => {
    const drawn = layers[index]
    if (id != null && drawn) rememberProduct(id, drawn.name, drawn.family)
  })
}

/** The drawing in words, from the wood up. */
const sectionWords = computed(() => {
  const named = (draft.value?.layers ?? []).map((layer) =>
    layer.product === null
      ? (byId.value.get(layer.family)?.name ?? 'nothing yet')
      : productName(layer.product),
  )
  return `Cross-section, from the wood up: ${named.join(', ') || 'bare wood'}`
})

/** From the top down, as the stack lies. */
const stack = computed(() => (draft.value?.layers ?? []).map((layer, index) => ({ layer, index })).reverse())

async function add(): Promise<void> {
  draft.value?.layers.push(blankLayer())
  const index = (draft.value?.layers.length ?? 1) - 1
  await nextTick()
  document.getElementById(`layer-${index}-product`)?.focus()
}
async function remove(index: number): Promise<void> {
  draft.value?.layers.splice(index, 1)
  await nextTick()
  bar.value?.focusAdd()
}

const { trouble, isBusy, save } = useRecipeSave({
  trialId: () => props.trialId,
  buildUp: () => props.buildUp,
  kept,
  saved: (view, said) => emit('saved', view, said),
})

watch(
  () => props.buildUp,
  (buildUp) => {
    rememberProducts(buildUp)
    trouble.value = ''
    checked.assessment.value = null
    kept.show(`trial.${props.trialId}.build-up.${buildUp.id}`, draftOf(buildUp))
  },
  { immediate: true },
)
</script>

<template>
  <form v-if="draft" class="editor sheet" @submit.prevent="save">
    <header class="head">
      <div class="field grow">
        <label for="recipe-name">Name</label>
        <el-input id="recipe-name" v-model="draft.name" maxlength="120" />
      </div>
      <RouterLink class="press" :to="`/trials/${trialId}/build-ups/${buildUp.id}/sheet`">Sheet</RouterLink>
      <button v-if="isChanged" type="button" class="press" @click="kept.leave()">Leave as it was</button>
      <button v-else-if="!isStarted" type="button" class="press" @click="emit('copy')">Copy</button>
      <button class="press press-main" :disabled="isBusy || !isChanged">
        {{ isStarted ? 'Save as a new version' : 'Save' }}
      </button>
    </header>
    <p v-if="isStarted" class="quiet">
      Panels have been graded, so version {{ buildUp.version }} is frozen here. A change makes a new version
      for later trials.
    </p>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
    <p v-else-if="checked.trouble.value" class="caution" role="status">{{ checked.trouble.value }}</p>
    <p v-else-if="isChanged" class="caution" role="status">Not saved yet; a reload keeps what you changed.</p>

    <div class="top">
      <LayerSection
        class="drawing"
        size="large"
        :label="sectionWords"
        :layers="drawnOf(draft, byId)"
        :species="species"
        :chosen="pointed"
      />
      <BuildUpFigures v-if="assessment" :assessment="assessment" />
    </div>

    <div v-if="assessment?.is_blocked || draft.experiment_reason" class="experiment">
      <label for="experiment">
        <strong>A declared experiment?</strong> A combination that will not hold can be kept if you say why it
        is tried.
      </label>
      <el-input id="experiment" v-model="draft.experiment_reason" type="textarea" autosize maxlength="2000" />
    </div>

    <div class="stack" @pointerleave="pointed = -1">
      <StackBar ref="bar" v-model="draft" @add="add" />
      <FindingsList class="inset" :findings="findingsAt(findings, 'final')" />
      <LayerRow
        v-for="{ layer, index } in stack"
        :key="index"
        :model-value="layer"
        :index="index"
        :count="stack.length"
        :families="families"
        :findings="findingsAt(findings, `layers.${index}`)"
        :need-ml="assessment?.needs[index]?.total_ml"
        @move="moveLayer(draft.layers, index, $event)"
        @remove="remove(index)"
        @point="pointed = index"
      />
      <PreparationRow v-model="draft.preparation" :findings="findingsAt(findings, 'preparation')" />
    </div>
  </form>
</template>

<style scoped>
.editor {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 16px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: 10px;
}
.grow {
  flex: 1 1 220px;
}
.top {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 20px;
  align-items: center;
}
.drawing {
  height: 120px;
  border: 1px solid var(--hairline);
}
.experiment {
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 10px 12px;
  border-left: 4px solid var(--late);
  background: var(--ground);
}
.stack {
  border: 1px solid var(--line);
}
.stack > * + * {
  border-top: 1px solid var(--hairline);
}
.inset:not(:empty) {
  padding: 8px 12px;
}
@media (max-width: 900px) {
  .top {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
