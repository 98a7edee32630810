<script setup lang="ts">
import { ref, watch } from 'vue'
import FindingsList from './FindingsList.vue'
import {
  CHARRING_WORDS,
  CLEANING_WORDS,
  WASHING_WORDS,
  readGrits,
  SANDING_WORDS,
  START_WORDS,
  type Finding,
  type PreparationDraft,
} from './model'

/** What is done to the wood before the first coat. */
defineProps<{ findings: readonly Finding[] }>()
const wood = defineModel<PreparationDraft>({ required: true })

const grits = ref(wood.value.grits.join('-'))
const box = ref<HTMLInputElement | null>(null)
const isFaulty = ref(false)

function takeGrits(): void {
  const read = readGrits(grits.value)
  isFaulty.value = read === null
  box.value?.setCustomValidity(read ? '' : 'Give whole grits from coarse to fine, such as 80-120-180.')
  if (read) wood.value.grits = read
}
watch(
  () => wood.value.grits,
  (now) => {
    if (readGrits(grits.value)?.join('-') !== now.join('-')) grits.value = now.join('-')
  },
)
</script>

<template>
  <fieldset class="wood">
    <legend class="sr">Preparation of the wood</legend>
    <div class="line">
      <span class="name">Wood</span>
      <el-select v-model="wood.start" class="choiceBox" aria-label="The surface to begin with">
        <el-option v-for="(words, id) in START_WORDS" :key="id" :value="id" :label="words" />
      </el-select>
      <label class="pair"
        >Grits
        <input
          id="grits"
          ref="box"
          v-model="grits"
          class="mono"
          inputmode="numeric"
          :aria-invalid="isFaulty"
          @input="takeGrits"
        />
      </label>
      <label class="pair"
        >End grain
        <input
          id="end-grain"
          class="mono short"
          type="number"
          min="16"
          max="5000"
          placeholder="as face"
          :value="wood.end_grain_grit ?? ''"
          @change="wood.end_grain_grit = Number(($event.target as HTMLInputElement).value) || null"
        />
      </label>
    </div>
    <div class="line second">
      <el-select v-model="wood.sanding" class="choiceBox wide" aria-label="How it is sanded">
        <el-option v-for="(words, id) in SANDING_WORDS" :key="id" :value="id" :label="words" />
      </el-select>
      <el-select v-model="wood.cleaning" class="choiceBox wide" aria-label="How it is cleaned">
        <el-option v-for="(words, id) in CLEANING_WORDS" :key="id" :value="id" :label="words" />
      </el-select>
      <el-select v-model="wood.washed" class="choiceBox wide" aria-label="How it is washed first">
        <el-option v-for="(words, id) in WASHING_WORDS" :key="id" :value="id" :label="words" />
      </el-select>
      <label class="choice"><input v-model="wood.water_popped" type="checkbox" /> Water-popped</label>
      <el-select v-model="wood.charring" class="choiceBox" aria-label="Charring">
        <el-option v-for="(words, id) in CHARRING_WORDS" :key="id" :value="id" :label="words" />
      </el-select>
      <label v-if="wood.charring !== 'none'" class="choice"
        ><input v-model="wood.brushed" type="checkbox" /> Brushed</label
      >
    </div>
    <p class="quiet hint">A conditioner, sealer or stain is the first layer.</p>
    <FindingsList :findings="findings" />
  </fieldset>
</template>

<style scoped>
.wood {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 10px 12px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
}
.hint {
  padding-left: 54px;
  font-size: 14px;
}
.second {
  padding-left: 54px;
}
.name {
  width: 44px;
  font-weight: 700;
}
.choiceBox {
  width: 136px;
}
.wide {
  width: 180px;
}
.pair {
  display: inline-flex;
  align-items: center;
  gap: 8px;
}
.pair input {
  width: 150px;
  min-height: 44px;
  padding: 0 10px;
  border: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink);
  font-size: 15px;
}
.pair .short {
  width: 88px;
}
.pair input[aria-invalid='true'] {
  border-color: var(--late);
}
</style>
