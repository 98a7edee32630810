<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { standOf } from '@/app/dueWords'
import { quantityOf, said } from '@/kit/units'
import { clockOf, isDone, windowOf, type Operation, type Turn } from './model'
import WeighBox from './WeighBox.vue'

/** Each panel of the pass: its window counting, when it was done, what it weighs and what it took. */
const props = defineProps<{
  operation: Operation
  now: number
  zone: string
  hasBalance: boolean
  applied: readonly Schemas['AppliedCoat'][]
}>()
defineEmits<{ weigh: [code: string, nth: 1 | 2, grams: number] }>()

const weighs = computed(() => (props.operation.kind === 'weigh' ? (props.operation.nth as 1 | 2) : null))
const took = computed(() => {
  const coat = props.applied.find(
    (each) => each.build_up_id === props.operation.build_up_id && each.item === props.operation.item,
  )
  return new Map(coat?.panels.map((panel) => [panel.panel, panel]))
})
const doubts = computed(() =>
  props.operation.turns.flatMap((turn) => {
    const says = took.value.get(turn.code)?.stands_out
    return says?.length && ['weigh', 'coat', 'wipe'].includes(props.operation.kind) ? [says] : []
  }),
)

function windowWords(turn: Turn): { words: string; isLate: boolean } {
  if (turn.is_even) return { words: 'even, no coat', isLate: false }
  if (turn.skipped_because) return { words: 'skipped', isLate: false }
  if (turn.ended_at) return { words: `done ${clockOf(turn.ended_at, props.zone)}`, isLate: false }
  if (turn.begun_at) return { words: `since ${clockOf(turn.begun_at, props.zone)}`, isLate: false }
  const window = windowOf([turn])
  if (!window) return { words: clockOf(turn.start_at, props.zone), isLate: false }
  const { left, state } = standOf(window, props.now)
  return { words: left, isLate: state === 'late' }
}
</script>

<template>
  <div>
    <ol class="turns" aria-label="Panels of this pass">
      <li
        v-for="turn in operation.turns"
        :key="turn.code"
        :class="{ done: isDone(turn), running: turn.begun_at && !isDone(turn) }"
      >
        <span class="code mono">{{ turn.code }}</span>
        <span class="window mono" :class="{ late: windowWords(turn).isLate }">{{
          windowWords(turn).words
        }}</span>
        <WeighBox
          v-if="weighs"
          :code="turn.code"
          :saved="weighs === 1 ? turn.weight_before_g : turn.weight_after_g"
          :has-balance="hasBalance"
          @weigh="(grams) => $emit('weigh', turn.code, weighs ?? 1, grams)"
        />
        <span v-else />
        <span class="took mono">
          <strong v-if="took.get(turn.code)" :class="{ late: took.get(turn.code)?.stands_out.length }">{{
            quantityOf('g_per_m2', took.get(turn.code)?.g_per_m2)
          }}</strong>
        </span>
      </li>
    </ol>
    <p v-for="says in doubts" :key="said(says)" class="late" role="alert">{{ said(says) }}</p>
  </div>
</template>

<style scoped>
.turns {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 48px minmax(96px, auto) 1fr 90px;
  gap: 8px;
  align-items: center;
  min-height: var(--target);
  border-bottom: 1px solid var(--hairline);
  border-left: 4px solid transparent;
  padding-left: 8px;
}
li.running {
  border-left-color: var(--accent);
  background: var(--ground);
}
.code {
  font-size: 20px;
  font-weight: 700;
}
li.done .window {
  color: var(--quiet);
}
.took {
  text-align: right;
  font-size: 14px;
}
</style>
