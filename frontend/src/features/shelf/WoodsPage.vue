<script setup lang="ts">
import { ref } from 'vue'
import { api, body, type Schemas } from '@/api/client'
import QuantityInput from '@/kit/QuantityInput.vue'
import { quantityOf } from '@/kit/units'
import { woodTone } from '@/kit/wood'
import { PORE_WORDS, type WoodFields } from './model'
import OwnThings from './OwnThings.vue'
import { useOwnThings } from './useOwnThings'

type Wood = Schemas['Wood']

const things = useOwnThings({
  list: () => body(api.GET('/api/shelf/species')),
  wordsOf: (row: Wood) => `${row.wood.name} ${PORE_WORDS[row.wood.pores]}`,
})
const { trouble, isBusy, attempt } = things
const BLANK: WoodFields = {
  name: '',
  pores: 'diffuse-porous',
  density_kg_m3: 650,
  janka_n: 5000,
  absorbency: 1,
  tannin_rich: false,
  oily: false,
}
const draft = ref<WoodFields | null>(null)
const changing = ref<number | null>(null)

function begin(row: Wood | null, isCopy: boolean): void {
  changing.value = isCopy ? null : (row?.item_id ?? null)
  const copy = row && isCopy ? { ...row.wood, name: `${row.wood.name}, ours` } : row?.wood
  draft.value = { ...BLANK, ...copy }
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
function archive(row: Wood): Promise<boolean> {
  const path = { item_id: row.item_id ?? 0 }
  return attempt(() =>
    api.POST('/api/shelf/species/{item_id}/archive', {
      params: { path },
      body: { is_archived: !row.is_archived },
    }),
  )
}
function leave(): void {
  draft.value = null
  trouble.value = ''
}
function flags(wood: WoodFields): string {
  const words = [wood.tannin_rich && 'tannin-rich', wood.oily && 'oily'].filter(Boolean)
  return [PORE_WORDS[wood.pores], ...words].join(' · ')
}
</script>

<template>
  <OwnThings
    says="Woods: how hard, how dense, how thirsty"
    noun="wood"
    kind="species"
    :things="things"
    :name-of="(row) => row.wood.name"
    @begin="begin"
    @archive="archive"
  >
    <template #form>
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
        <button type="button" class="press" @click="leave">Leave</button>
      </form>
    </template>
    <template #thing="{ thing }">
      <span class="wood">
        <span
          class="chip"
          :style="{ background: woodTone(thing.id).ground, borderColor: woodTone(thing.id).grain }"
        />
        <span class="name">
          <strong>{{ thing.wood.name }}</strong>
          <span class="quiet">{{ flags(thing.wood) }}</span>
        </span>
        <span class="figure">{{ quantityOf('kg_per_m3', thing.wood.density_kg_m3) }}</span>
        <span class="figure">{{ quantityOf('newtons', thing.wood.janka_n) }}</span>
        <span class="figure">drinks × {{ thing.wood.absorbency }}</span>
      </span>
    </template>
  </OwnThings>
</template>

<style scoped>
.edit {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
  gap: 12px;
  align-items: end;
  padding: 16px;
}
.wide {
  grid-column: span 2;
}
.wood {
  display: grid;
  grid-template-columns: 44px minmax(0, 1fr) 104px 96px 128px;
  align-items: center;
  gap: 16px;
}
.chip {
  width: 44px;
  height: 30px;
  border: 1px solid;
}
.name {
  display: flex;
  flex-direction: column;
}
@media (max-width: 900px) {
  .wood {
    grid-template-columns: 44px minmax(0, 1fr);
  }
  .wood .figure {
    display: none;
  }
}
</style>
