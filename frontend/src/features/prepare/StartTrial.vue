<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import type { Schemas } from '@/api/client'
import type { Board } from './model'

/** Asks once more before a trial starts: says what will stand, and why boards were not measured. */
const props = defineProps<{
  trial: Schemas['Trial']
  boards: readonly Board[]
  nSlips: number
  nShort: number
  isBusy: boolean
  trouble: string
}>()
const emit = defineEmits<{ start: [unmeasuredBecause: string] }>()

const isAsking = ref(false)
const because = ref('')
const first = useTemplateRef<HTMLElement>('first')
const nPanels = computed(() => props.boards.reduce((sum, board) => sum + board.panels.length, 0))
const unmeasured = computed(() =>
  props.boards.filter((board) => board.length_mm === null || board.width_mm === null),
)
const isReady = computed(() => !unmeasured.value.length || because.value.trim() !== '')

function count(n: number, one: string): string {
  return `${n} ${n === 1 ? one : `${one}s`}`
}
async function ask(): Promise<void> {
  isAsking.value = true
  await nextTick()
  first.value?.focus()
}
function start(): void {
  if (isReady.value) emit('start', because.value.trim())
}
</script>

<template>
  <p>
    Starting freezes the design, the build-ups and the protocol, and seals their record. What goes otherwise
    from then on is recorded as a deviation.
  </p>
  <p v-if="!boards.length && !nSlips" class="quiet">Draw lots under Design first.</p>
  <p v-else-if="nShort" class="late">
    {{ nShort === 1 ? 'One board is' : `${nShort} boards are` }} too short or too narrow.
  </p>
  <button
    v-if="!isAsking"
    class="press press-main"
    :disabled="isBusy || !(boards.length || nSlips)"
    @click="ask"
  >
    Start the trial…
  </button>
  <form
    v-else
    class="ask"
    aria-labelledby="start-title"
    @submit.prevent="start"
    @keydown.esc="isAsking = false"
  >
    <h3 id="start-title" ref="first" tabindex="-1">This will stand</h3>
    <ul>
      <li>
        {{ count(trial.build_ups.length, 'build-up') }}, the bare control among them:
        {{ trial.build_ups.map((row) => row.name).join(', ') }}
      </li>
      <li>
        {{ count(nPanels, 'panel') }} on {{ count(boards.length, 'board')
        }}<template v-if="nSlips"> and {{ count(nSlips, 'slip') }} of glass</template>, with their codes and
        lots
      </li>
      <li>
        What stands on them and is looked at when, graded by
        {{ trial.judges.map((judge) => judge.display_name).join(', ') || 'nobody yet' }}
      </li>
    </ul>
    <div v-if="unmeasured.length" class="field">
      <label for="unmeasured">
        {{ count(unmeasured.length, 'board') }} not measured ({{
          unmeasured
            .slice(0, 4)
            .map((board) => board.name)
            .join(', ')
        }}{{ unmeasured.length > 4 ? '…' : '' }}): nobody knows yet whether the panels fit. Measure them, or
        say why not
      </label>
      <el-input id="unmeasured" v-model="because" maxlength="2000" placeholder="The panels are cut already" />
    </div>
    <div class="row">
      <button class="press press-main" :disabled="isBusy || !isReady">Start: this stands from now on</button>
      <button type="button" class="press" @click="isAsking = false">Not yet</button>
    </div>
  </form>
  <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
</template>

<style scoped>
.ask {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
h3 {
  margin: 0;
  font-size: 16px;
}
ul {
  margin: 0;
  padding-left: 20px;
}
</style>
