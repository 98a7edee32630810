<script setup lang="ts">
import { computed } from 'vue'
import type { DesignDraft } from './model'

/** Looking before all boards are read: how many boards each stage adds. */
defineProps<{ isFixed: boolean }>()
const draft = defineModel<DesignDraft>({ required: true })
const MOST = 10
const isStaged = computed(() => draft.value.stages.length > 0)

function setStages(stages: number[]): void {
  draft.value.stages = stages
  const sum = stages.reduce((all, n) => all + n, 0)
  if (sum) draft.value.boards_per_species = sum
}
function stage(isWanted: boolean): void {
  const all = draft.value.boards_per_species
  if (!isWanted) return setStages([])
  const first = Math.max(1, Math.ceil(all / 2))
  setStages(all > 1 ? [first, all - first] : [3, 2])
}
const change = (index: number, n: number | undefined) =>
  setStages(draft.value.stages.map((own, at) => (at === index ? (n ?? 1) : own)))
</script>

<template>
  <div class="field">
    <label class="choice">
      <input
        type="checkbox"
        :checked="isStaged"
        :disabled="isFixed"
        @change="(event) => stage((event.target as HTMLInputElement).checked)"
      />
      <span>Look before all boards are read, in stages</span>
    </label>
    <div v-if="isStaged" class="row stages">
      <template v-for="(n, index) in draft.stages" :key="index">
        <el-input-number
          :id="`stage-${index}`"
          :model-value="n"
          :min="1"
          :max="30"
          :disabled="isFixed"
          :aria-label="`Boards of stage ${index + 1}`"
          @update:model-value="(value: number | undefined) => change(index, value)"
        />
      </template>
      <button
        v-if="!isFixed && draft.stages.length < MOST"
        type="button"
        class="press"
        @click="setStages([...draft.stages, 1])"
      >
        One more stage
      </button>
      <button
        v-if="!isFixed && draft.stages.length > 2"
        type="button"
        class="press"
        @click="setStages(draft.stages.slice(0, -1))"
      >
        One less
      </button>
    </div>
    <span class="hint">{{
      isStaged
        ? 'Boards of each wood that each stage adds. Nothing is weighed before a stage is read to its end; what each look must show stands in the answer.'
        : 'Three boards first, then two and two more where it is still open: the limits are set so that looking several times finds no more than there is.'
    }}</span>
  </div>
</template>

<style scoped>
.stages :deep(.el-input-number) {
  width: 110px;
}
</style>
