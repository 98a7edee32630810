<script setup lang="ts">
import { computed } from 'vue'
import { useLoaded } from '@/api/useLoaded'
import { responseOf, type DeclaredStep } from '@/kit/responses'
import StateView from '@/kit/StateView.vue'
import { drawingsOf } from './drawings'
import MarkSurface from './MarkSurface.vue'
import { GLANCING, SQUARE_ON } from './shade'

/** What each step of a scale looks like: square on, and with the lamp glancing. */
const props = defineProps<{ response: string }>()
const { data, trouble, load } = useLoaded(() => drawingsOf(props.response), [() => props.response])
const rows = computed(() =>
  responseOf(props.response).steps.flatMap((step: DeclaredStep) => {
    const found = data.value?.find((each) => Math.abs(each.value - step.value) < 1e-9)
    return found ? [{ step, picture: found.picture }] : []
  }),
)
</script>

<template>
  <StateView v-if="trouble" kind="trouble" title="The drawings cannot be shown" :says="trouble">
    <button class="press press-main" @click="load">Try again</button>
  </StateView>
  <ol v-else class="steps">
    <li v-for="row in rows" :key="row.step.value">
      <span class="words">
        <b class="mono">{{ row.step.key }}</b> <b>{{ row.step.words }}</b>
        <small class="quiet">{{ row.step.says }}</small>
      </span>
      <MarkSurface
        :picture="row.picture"
        :lamp="SQUARE_ON"
        :width="240"
        :label="`${row.step.words}, square on`"
      />
      <MarkSurface
        :picture="row.picture"
        :lamp="GLANCING"
        :width="240"
        :label="`${row.step.words}, lamp glancing`"
      />
    </li>
  </ol>
</template>

<style scoped>
.steps {
  display: flex;
  flex-direction: column;
  gap: 8px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: minmax(120px, 300px) minmax(0, 220px) minmax(0, 220px);
  gap: 10px;
  align-items: center;
}
small {
  display: block;
}
@media (max-width: 640px) {
  li {
    grid-template-columns: 1fr 1fr;
  }
  .words {
    grid-column: 1 / -1;
  }
}
</style>
