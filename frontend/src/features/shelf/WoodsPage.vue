<script setup lang="ts">
import { ref } from 'vue'
import { api, body, type Schemas } from '@/api/client'
import QuantityInput from '@/kit/QuantityInput.vue'
import StateView from '@/kit/StateView.vue'
import { inUnits, quantityOf } from '@/kit/units'
import { woodTone } from '@/kit/wood'
import { PORE_WORDS, type WoodFields } from './model'
import ShelfFile from './ShelfFile.vue'
import ShelfTabs from './ShelfTabs.vue'
import { useOwnThings } from './useOwnThings'

const things = useOwnThings({
  list: () => body(api.GET('/api/shelf/species')),
  wordsOf: (row: Schemas['Wood']) => `${row.wood.name} ${PORE_WORDS[row.wood.pores]}`,
})
const { shown, search, isArchived, trouble, loadTrouble, isBusy, load, attempt } = things
const blank = (): WoodFields => ({
  name: '',
  pores: 'diffuse-porous',
  density_kg_m3: 650,
  janka_n: 5000,
  absorbency: 1,
  tannin_rich: false,
  oily: false,
})
const draft = ref<WoodFields | null>(null)
const changing = ref<number | null>(null)

function begin(row: Schemas['Wood'] | null, isCopy = false): void {
  changing.value = isCopy ? null : (row?.item_id ?? null)
  const copy = row && isCopy ? { ...row.wood, name: `${row.wood.name}, ours` } : row?.wood
  draft.value = { ...blank(), ...copy }
}
async function save(): Promise<void> {
  const fields = draft.value as WoodFields
  const id = changing.value
  const done = await attempt(() =>
    id === null
      ? api.POST('/api/shelf/species', { body: fields })
      : api.PUT('/api/shelf/species/{item_id}', { params: { path: { item_id: id } }, body: fields }),
  )
  if (done) draft.value = null
}
function archive(row: Schemas['Wood']): Promise<boolean> {
  const path = { item_id: row.item_id ?? 0 }
  return attempt(() =>
    api.POST('/api/shelf/species/{item_id}/archive', {
      params: { path },
      body: { is_archived: !row.is_archived },
    }),
  )
}
function flags(wood: WoodFields): string {
  return [wood.tannin_rich && 'tannin-rich', wood.oily && 'oily'].filter(Boolean).join(', ')
}
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>Shelf</h1>
        <p class="quiet">Woods: how hard, how dense, how thirsty</p>
      </div>
      <ShelfTabs />
    </header>
    <div class="row">
      <label class="sr" for="wood-search">Find a wood</label>
      <el-input id="wood-search" v-model="search" class="find" clearable placeholder="Find a wood" />
      <label class="choice"><input v-model="isArchived" type="checkbox" /> Archived</label>
      <button class="press press-main" @click="begin(null)">New wood</button>
      <ShelfFile kind="species" noun="wood" @written="load" />
    </div>
    <form v-if="draft" class="sheet edit" @submit.prevent="save">
      <div class="field wide">
        <label for="wood-name">Name</label>
        <el-input id="wood-name" v-model="draft.name" maxlength="120" />
      </div>
      <div class="field">
        <label for="wood-pores">Pores</label>
        <el-select id="wood-pores" v-model="draft.pores">
          <el-option v-for="(words, id) in PORE_WORDS" :key="id" :value="id" :label="words" />
        </el-select>
      </div>
      <div class="field">
        <label for="wood-density">Density</label>
        <QuantityInput
          id="wood-density"
          :model-value="draft.density_kg_m3"
          quantity="kg_per_m3"
          @update:model-value="draft.density_kg_m3 = $event ?? 0"
        />
      </div>
      <div class="field">
        <label for="wood-janka">Janka hardness</label>
        <QuantityInput
          id="wood-janka"
          :model-value="draft.janka_n"
          quantity="newtons"
          @update:model-value="draft.janka_n = $event ?? 0"
        />
      </div>
      <div class="field">
        <label for="wood-thirst">Absorbency, beech 1</label>
        <QuantityInput
          id="wood-thirst"
          :model-value="draft.absorbency ?? 1"
          quantity="number"
          @update:model-value="draft.absorbency = $event ?? 1"
        />
      </div>
      <label class="choice"><input v-model="draft.tannin_rich" type="checkbox" /> Tannin-rich</label>
      <label class="choice"><input v-model="draft.oily" type="checkbox" /> Oily</label>
      <button class="press press-main" :disabled="isBusy">Save</button>
      <button type="button" class="press" @click="draft = null">Leave</button>
    </form>
    <p v-if="trouble" class="late" role="alert">{{ inUnits(trouble) }}</p>
    <StateView v-if="loadTrouble" kind="trouble" title="The woods cannot be listed" :says="loadTrouble">
      <button class="press press-main" @click="load">Try again</button>
    </StateView>
    <ul v-else class="sheet list">
      <li v-for="row in shown" :key="row.id" class="thing">
        <span
          class="chip"
          :style="{ background: woodTone(row.id).ground, borderColor: woodTone(row.id).grain }"
        />
        <span class="name">
          <strong>{{ row.wood.name }}</strong>
          <span class="quiet"
            >{{ PORE_WORDS[row.wood.pores] }}{{ flags(row.wood) && ` · ${flags(row.wood)}` }}</span
          >
        </span>
        <span class="figure">{{ quantityOf('kg_per_m3', row.wood.density_kg_m3) }}</span>
        <span class="figure">{{ quantityOf('newtons', row.wood.janka_n) }}</span>
        <span class="figure" :title="'absorbency'">× {{ row.wood.absorbency }}</span>
        <span class="row acts">
          <template v-if="row.item_id !== null">
            <button class="press" :aria-label="`Change ${row.wood.name}`" @click="begin(row)">Change</button>
            <button
              class="press"
              :aria-label="`${row.is_archived ? 'Put back' : 'Archive'} ${row.wood.name}`"
              :disabled="isBusy"
              @click="archive(row)"
            >
              {{ row.is_archived ? 'Put back' : 'Archive' }}
            </button>
          </template>
          <button class="press" :aria-label="`Copy ${row.wood.name} to change it`" @click="begin(row, true)">
            Copy
          </button>
        </span>
      </li>
    </ul>
  </div>
</template>

<style scoped src="./things.css"></style>
<style scoped>
.thing {
  grid-template-columns: 44px minmax(0, 1fr) 104px 104px 72px 270px;
}
.chip {
  width: 44px;
  height: 30px;
  border: 1px solid;
}
</style>
