<script setup lang="ts">
import { nextTick, onMounted, useTemplateRef, watch } from 'vue'
import { codesOf, standOf } from '@/app/dueWords'
import { clockOf, STATE_WORDS, stateOf, windowOf, type Operation } from './model'

/** The day's work as large cards in order; the one in hand is open beside them. */
const props = defineProps<{
  operations: readonly Operation[]
  selected: number | null
  now: number
  zone: string
  showsHands: boolean
}>()
defineEmits<{ pick: [id: number] }>()

const list = useTemplateRef<HTMLElement>('list')

/** What a card counts: the window that closes first of what is left. */
function countdown(operation: Operation): { words: string; isLate: boolean } | null {
  const window = windowOf(operation.turns.filter((turn) => !turn.ended_at))
  if (!window?.closes_at) return null
  const { left, state } = standOf(window, props.now)
  return { words: left, isLate: state === 'late' }
}

/** Bring the card in hand into the list's view, the page staying where it is. */
async function reveal(): Promise<void> {
  await nextTick()
  const card = list.value?.querySelector<HTMLElement>('[aria-current="true"]')?.parentElement
  if (!list.value || !card) return
  const above = card.offsetTop - list.value.offsetTop
  const isInView =
    above >= list.value.scrollTop &&
    above + card.offsetHeight <= list.value.scrollTop + list.value.clientHeight
  if (!isInView) list.value.scrollTop = above - 10
}
onMounted(reveal)
watch(() => [props.selected, props.operations.length], reveal)
</script>

<template>
  <ol ref="list" class="cards" aria-label="The day’s work">
    <li v-for="operation in operations" :key="operation.id">
      <button
        class="card"
        :class="[stateOf(operation, now), operation.kind, { hot: operation.is_hot }]"
        :aria-current="selected === operation.id"
        @click="$emit('pick', operation.id)"
      >
        <span class="when mono">{{ clockOf(operation.start_at, zone) }}</span>
        <span class="what">
          <strong>{{ operation.what }}</strong>
          <span class="quiet"
            >{{ operation.product || operation.build_up || operation.board
            }}<template v-if="showsHands"> · {{ operation.hands.split(' ')[0] }}</template></span
          >
          <span class="mono codes">{{
            codesOf(
              operation.turns.map((turn) => turn.code),
              8,
            )
          }}</span>
        </span>
        <span class="state">
          <template v-if="countdown(operation)">
            <span class="mono" :class="{ late: countdown(operation)?.isLate }">{{
              countdown(operation)?.words
            }}</span>
          </template>
          <template v-else>{{ STATE_WORDS[stateOf(operation, now)] }}</template>
          <small v-if="operation.n_done && operation.n_done < operation.turns.length" class="mono"
            >{{ operation.n_done }} of {{ operation.turns.length }}</small
          >
        </span>
      </button>
    </li>
  </ol>
</template>

<style scoped>
.cards {
  display: flex;
  flex-direction: column;
  gap: 6px;
  margin: 0;
  padding: 0;
  max-height: 470px;
  overflow: auto;
  list-style: none;
}
.card {
  display: grid;
  grid-template-columns: 60px minmax(0, 1fr) auto;
  gap: 12px;
  align-items: center;
  width: 100%;
  min-height: 64px;
  padding: 8px 14px;
  border: 1px solid var(--hairline);
  border-left: 6px solid var(--line);
  background: var(--paper);
  color: var(--ink);
  font-size: 15px;
  text-align: left;
  cursor: pointer;
}
.card:focus-visible {
  outline-offset: -3px;
}
.card[aria-current='true'] {
  border-color: var(--ink);
  background: var(--rail);
}
.card.coat {
  border-left-color: #0b6e63;
}
.card.wipe {
  border-left-color: #f0c36a;
}
.card.look {
  border-left-color: #9079b8;
}
.card.lay.hot,
.card.lift.hot,
.card.act.hot {
  border-left-color: #b4472b;
}
.card.done,
.card.skipped {
  opacity: 0.72;
}
.when {
  font-size: 17px;
}
.what {
  display: flex;
  flex-direction: column;
  line-height: 1.3;
}
.what strong {
  font-size: 17px;
}
.codes {
  font-size: 14px;
}
.state {
  display: flex;
  flex-direction: column;
  align-items: flex-end;
  color: var(--quiet);
}
.behind .state,
.running .state {
  color: var(--ink);
  font-weight: 700;
}
.behind .state {
  color: var(--late);
}
</style>
