<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'
import { useKeptDraft } from '@/app/keptDraft'
import ProductPicker, { productName, rememberProduct } from '@/features/shelf/ProductPicker.vue'
import LayerSection from '@/kit/LayerSection.vue'
import BuildUpFigures from './BuildUpFigures.vue'
import FindingsList from './FindingsList.vue'
import LayerRow from './LayerRow.vue'
import {
  blankLayer,
  draftOf,
  drawnOf,
  FINAL_WORDS,
  findingsAt,
  missingIn,
  moveLayer,
  recipeOf,
  type BuildUpDetail,
  type BuildUps,
  type RecipeDraft,
} from './model'
import PreparationRow from './PreparationRow.vue'
import { useDraftCheck } from './useDraftCheck'

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
const trouble = ref('')
const isBusy = ref(false)
const addButton = ref<HTMLButtonElement | null>(null)

watch(
  () => props.buildUp,
  (buildUp) => {
    const { recipe, layers } = buildUp
    recipe?.layers.forEach((layer, index) => {
      const drawn = layers[index]
      if (layer.product != null && drawn) rememberProduct(layer.product, drawn.name, drawn.family)
    })
    const wax = layers[recipe?.layers.length ?? 0]
    if (recipe?.final_product != null && wax) rememberProduct(recipe.final_product, wax.name, wax.family)
    trouble.value = ''
    checked.assessment.value = null
    kept.show(`trial.${props.trialId}.build-up.${buildUp.id}`, draftOf(buildUp))
  },
  { immediate: true },
)

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
  addButton.value?.focus()
}

async function save(): Promise<void> {
  const now = draft.value
  if (!now) return
  trouble.value = missingIn(now) ?? ''
  if (trouble.value) return
  isBusy.value = true
  try {
    const path = { trial_id: props.trialId, build_up_id: props.buildUp.id }
    const changed = await body(
      api.PUT('/api/trials/{trial_id}/build-ups/{build_up_id}', {
        params: { path },
        body: { name: now.name, recipe: recipeOf(now) },
      }),
    )
    const made = changed.made_for_shelf
    kept.sent(made === null ? now : draftOf(props.buildUp))
    emit(
      'saved',
      changed.view,
      made === null
        ? `${now.name} is saved.`
        : `Version ${made} of ${now.name} is on the shelf for later trials. This trial keeps version ${props.buildUp.version}.`,
    )
  } catch (error) {
    trouble.value = wordsOf(error)
  } finally {
    isBusy.value = false
  }
}
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
      <div class="bar">
        <button ref="addButton" type="button" class="press" @click="add">Add a layer on top</button>
        <label for="final">Last of all</label>
        <el-select id="final" v-model="draft.final" class="final">
          <el-option v-for="(words, id) in FINAL_WORDS" :key="id" :value="id" :label="words" />
        </el-select>
        <ProductPicker
          v-if="draft.final === 'waxed'"
          id="final-product"
          class="wax"
          label="The wax"
          only="wax"
          placeholder="A wax of your shelf"
          :product="draft.final_product"
          @choose="draft.final_product = $event.product"
        />
        <label class="choice"
          ><input v-model="draft.faces" type="checkbox" true-value="both" false-value="one" /> Both faces
          coated</label
        >
      </div>
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
.head,
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: 10px;
}
.bar {
  align-items: center;
  padding: 10px 12px;
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
.final {
  width: 140px;
}
.wax {
  width: 220px;
}
@media (max-width: 900px) {
  .top {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
