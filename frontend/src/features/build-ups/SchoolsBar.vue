<script setup lang="ts">
import { ref } from 'vue'
import { api, wordsOf, type Schemas } from '@/api/client'
import { COAT_SCHOOLS, PREPARATION_SCHOOLS, type BuildUps } from './model'

/** How the panels are prepared and how many coats they get, and what can then not be told apart. */
const props = defineProps<{ trialId: number; view: BuildUps }>()
const emit = defineEmits<{ changed: [] }>()
const trouble = ref('')

async function set(change: Schemas['PatchedTrialFieldsRequest']): Promise<void> {
  trouble.value = ''
  try {
    await api.PATCH('/api/trials/{trial_id}', { params: { path: { trial_id: props.trialId } }, body: change })
    emit('changed')
  } catch (error) {
    trouble.value = wordsOf(error)
  }
}
</script>

<template>
  <section class="sheet schools" aria-label="Rules of preparation and coats">
    <div class="school">
      <label for="preparation-school">Preparation</label>
      <el-select
        id="preparation-school"
        :model-value="view.preparation_school"
        @update:model-value="set({ preparation_school: $event })"
      >
        <el-option v-for="(words, id) in PREPARATION_SCHOOLS" :key="id" :value="id" :label="words" />
      </el-select>
      <p class="quiet">{{ view.confounded[0] }}</p>
    </div>
    <div class="school">
      <label for="coat-school">Coats</label>
      <el-select
        id="coat-school"
        :model-value="view.coat_school"
        @update:model-value="set({ coat_school: $event })"
      >
        <el-option v-for="(words, id) in COAT_SCHOOLS" :key="id" :value="id" :label="words" />
      </el-select>
      <p class="quiet">{{ view.confounded[1] }}</p>
    </div>
    <details v-if="view.strays.length" class="stray">
      <summary class="caution">
        {{ view.strays.length === 1 ? 'One thing is' : `${view.strays.length} things are` }} not as this rule
        of preparation and coats asks
      </summary>
      <p v-for="stray in view.strays" :key="stray" class="caution">{{ stray }}</p>
    </details>
    <p v-if="trouble" class="late stray" role="alert">{{ trouble }}</p>
  </section>
</template>

<style scoped>
.schools {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px 24px;
  padding: 12px 16px;
}
.school {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  align-items: center;
  gap: 4px 12px;
}
.school label {
  font-weight: 600;
}
.school p {
  grid-column: 1 / -1;
  font-size: 14px;
}
.stray {
  grid-column: 1 / -1;
  font-size: 14px;
}
.stray summary {
  cursor: pointer;
}
@media (max-width: 900px) {
  .schools {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
