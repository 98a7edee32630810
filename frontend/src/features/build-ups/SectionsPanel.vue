<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useKeptDraft } from '@/app/keptDraft'
import { productName, rememberProduct } from '@/kit/ProductPicker.vue'
import { quantityOf } from '@/kit/units'
import FindingsList from './FindingsList.vue'
import LayerRow from './LayerRow.vue'
import { blankLayer, moveLayer, type BuildUpDetail, type LayerDraft } from './model'
import {
  draftOfSections,
  missingInSections,
  sectionWords,
  standingOf,
  type SectionDraft,
  type SectionRow,
} from './sections'

/** What the sections of each panel carry on top of the panel's build-up, and what that comes to on each of them. */
const props = defineProps<{
  trialId: number
  chosen?: BuildUpDetail
  isStarted: boolean
  families: readonly Schemas['Family'][]
}>()
const emit = defineEmits<{ changed: [words: string] }>()

const MAX = 24
const { data, load } = useLoaded(() =>
  body(api.GET('/api/trials/{trial_id}/sections', { params: { path: { trial_id: props.trialId } } })),
)
const kept = useKeptDraft<SectionDraft[]>()
const { draft, isChanged } = kept
const trouble = ref('')
const isBusy = ref(false)

watch(data, (found) => {
  if (!found) return
  for (const row of found.sections)
    row.section.layers?.forEach((layer, index) => {
      const drawn = row.layers[index]
      if (layer.product != null && drawn) rememberProduct(layer.product, drawn.name, drawn.family)
    })
  kept.show(`trial.${props.trialId}.sections`, draftOfSections(found.sections))
})
const hasWaxOnTop = computed(
  () => props.chosen?.recipe?.final === 'waxed' && !draft.value?.length && !props.isStarted,
)
const rowOf = (section: SectionDraft): SectionRow | undefined =>
  isChanged.value ? undefined : data.value?.sections.find((row) => row.section.name === section.name)
const nameOf = (layer: LayerDraft): string =>
  layer.product === null
    ? (props.families.find((family) => family.id === layer.family)?.name ?? 'nothing yet')
    : productName(layer.product)

function add(): void {
  const own = draft.value ?? []
  // The first two are the usual question: with and without.
  if (!own.length) own.push({ name: 'nothing on top', coats: null, layers: [] })
  own.push({ name: '', coats: null, layers: [blankLayer()] })
}

async function attempt(request: () => Promise<unknown>, words: string): Promise<void> {
  isBusy.value = true
  trouble.value = ''
  try {
    await request()
    emit('changed', words)
  } catch (error) {
    trouble.value = wordsOf(error)
  } finally {
    isBusy.value = false
  }
}
function keep(): Promise<void> {
  const sections = draft.value ?? []
  const missing = missingInSections(sections)
  if (missing) {
    trouble.value = missing
    return Promise.resolve()
  }
  return attempt(async () => {
    data.value = await body(
      api.PUT('/api/trials/{trial_id}/sections', {
        params: { path: { trial_id: props.trialId } },
        body: { sections },
      }),
    )
    kept.sent(draftOfSections(data.value.sections))
  }, 'The sections are kept.')
}
function tryWithoutWax(): Promise<void> {
  const path = { trial_id: props.trialId, build_up_id: props.chosen?.id ?? 0 }
  return attempt(async () => {
    await body(api.POST('/api/trials/{trial_id}/build-ups/{build_up_id}/without-wax', { params: { path } }))
    await load()
  }, `${props.chosen?.name} is tested with and without its wax, as sections of each panel.`)
}
</script>

<template>
  <form v-if="draft" class="sheet sections" aria-labelledby="sections" @submit.prevent="keep">
    <header class="row">
      <h2 id="sections">Sections of each panel</h2>
      <template v-if="!isStarted">
        <button v-if="draft.length < MAX" type="button" class="press" @click="add">Add a section</button>
        <button v-if="isChanged" type="button" class="press" @click="kept.leave()">Leave as it was</button>
        <button v-if="isChanged" class="press press-main" :disabled="isBusy">Keep the sections</button>
      </template>
    </header>
    <p v-if="!draft.length" class="quiet">
      None: each panel carries its build-up all over. A section is a masked part with something on top of it,
      or with fewer coats, so that both are compared on one piece of wood.
    </p>
    <p v-if="hasWaxOnTop" class="offer">
      {{ chosen?.name }} ends in a wax, which is what the first tests meet.
      <button type="button" class="press" :disabled="isBusy" @click="tryWithoutWax">
        Test with and without, as sections
      </button>
    </p>
    <fieldset v-for="(section, index) in draft" :key="index" class="one" :disabled="isStarted">
      <legend class="sr">Section {{ index + 1 }}</legend>
      <div class="line">
        <el-input
          v-model="section.name"
          class="name"
          maxlength="60"
          :aria-label="`Section ${index + 1}, name`"
          :placeholder="index ? 'waxed' : 'nothing on top'"
        />
        <el-select
          :model-value="section.coats ?? 0"
          class="coats"
          :aria-label="`Section ${index + 1}, coats of the build-up`"
          @update:model-value="section.coats = $event || null"
        >
          <el-option :value="0" label="all coats of the build-up" />
          <el-option
            v-for="n in 6"
            :key="n"
            :value="n"
            :label="n === 1 ? 'only its first coat' : `only its first ${n} coats`"
          />
        </el-select>
        <button type="button" class="press" @click="section.layers.push(blankLayer())">
          Add a layer on top
        </button>
        <button
          type="button"
          class="press"
          :aria-label="`Remove section ${section.name || index + 1}`"
          @click="draft.splice(index, 1)"
        >
          ✕
        </button>
      </div>
      <LayerRow
        v-for="(_, at) in section.layers"
        :key="at"
        v-model="section.layers[at]!"
        :index="at + 1"
        :scope="`section-${index}-`"
        :count="section.layers.length + 1"
        :families="families"
        :findings="[]"
        @move="(by) => moveLayer(section.layers, at, by)"
        @remove="section.layers.splice(at, 1)"
      />
      <p class="quiet">{{ sectionWords(section, nameOf) }}</p>
      <template v-if="rowOf(section)">
        <p v-if="standingOf(rowOf(section)!).blocked.length" class="late">
          Will not hold on {{ standingOf(rowOf(section)!).blocked.join(', ') }}
        </p>
        <details v-if="rowOf(section)!.on.some((each) => each.findings.length)">
          <summary>
            On {{ rowOf(section)!.on.filter((each) => each.findings.length).length }} of
            {{ rowOf(section)!.on.length }} build-ups there is something to know
          </summary>
          <div v-for="each in rowOf(section)!.on.filter((one) => one.findings.length)" :key="each.build_up">
            <strong>{{ each.build_up }}</strong>
            <FindingsList :findings="each.findings" />
          </div>
        </details>
        <p v-if="rowOf(section)!.out.length" class="quiet">
          Not compared on {{ rowOf(section)!.out.join(', ') }}: there it stays as the panel is, is read like
          the others, and does not count.
        </p>
        <p class="figures">
          <span v-for="each in rowOf(section)!.on" :key="each.build_up">
            {{ each.build_up }}:
            <span class="mono"
              >{{ quantityOf('price_per_m2', each.cost_per_m2) }} · {{ each.days }} days</span
            >
          </span>
        </p>
      </template>
    </fieldset>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
  </form>
</template>

<style scoped>
.sections {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 16px 18px;
}
.one {
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-width: 0;
  margin: 0;
  padding: 10px 0 0;
  border: 0;
  border-top: 1px solid var(--hairline);
}
.line,
.offer {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
}
.name {
  width: 220px;
}
.coats {
  width: 240px;
}
.figures {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 22px;
  font-size: 14px;
}
summary {
  min-height: 44px;
  line-height: 44px;
  cursor: pointer;
}
</style>
