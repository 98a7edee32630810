<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { nextTick, useTemplateRef, watch } from 'vue'
import { viewWords } from '@/kit/responses'
import type { Ask } from './ask'
import { useMeasureTable, type Measured } from './useMeasureTable'

/** What one instrument gives at once, several times over: typed or read, with its mean and spread. */
const props = defineProps<{
  asks: readonly Ask[]
  /** Changes with what is in hand. */
  at: string
  instruments: readonly string[]
  isPaused: boolean
}>()
const emit = defineEmits<{ keep: [values: Measured[]] }>()
const table = useMeasureTable(
  () => props.asks,
  () => props.at,
  (values) => emit('keep', values),
)
const { rows, beyond, says, isBusy, declared, wanted, means, instrument } = table
const grid = useTemplateRef<HTMLElement>('grid')
const hasInstrument = () => instrument.value !== '' && props.instruments.includes(instrument.value)

function focusAt([row, column]: [number, number]): void {
  const cell = grid.value?.querySelector<HTMLInputElement>(`[data-cell="${row}-${column}"]`)
  cell?.focus({ preventScroll: true })
  cell?.select()
}
watch(
  () => props.at,
  async () => {
    await nextTick()
    focusAt(table.nextEmpty() ?? [0, 0])
  },
  { immediate: true },
)

function enter(): void {
  const next = table.nextEmpty()
  if (next && next[0] < wanted.value && !says.value) focusAt(next)
  else table.keepAll()
}
async function read(): Promise<void> {
  await table.read()
  await nextTick()
  const next = table.nextEmpty()
  if (next) focusAt(next)
}
// A number has no letter: R reads the instrument from within a box too.
useEventListener(
  window,
  'keydown',
  (event: KeyboardEvent) => {
    if (props.isPaused || event.key.toLowerCase() !== 'r' || event.ctrlKey || event.metaKey || event.altKey)
      return
    const target = event.target as HTMLElement
    if (/^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) && !grid.value?.contains(target)) return
    if (!hasInstrument()) return
    event.preventDefault()
    event.stopImmediatePropagation()
    if (!event.repeat) void read()
  },
  { capture: true },
)
</script>

<template>
  <form class="measures" @submit.prevent="table.keepAll">
    <table ref="grid">
      <caption>
        {{
          declared[0]?.instrument
            ? `${declared[0].instrument[0]?.toUpperCase()}${declared[0].instrument.slice(1)}`
            : 'Measured'
        }}<template v-if="asks[0]?.view">, {{ viewWords(asks[0].view).toLowerCase() }}</template>
      </caption>
      <thead>
        <tr>
          <th scope="col"><span class="unseen">Reading</span></th>
          <th v-for="each in declared" :key="each.name" scope="col">
            {{ each.noun }}<template v-if="each.unit">, {{ each.unit }}</template>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, n) in rows" :key="n">
          <th scope="row" class="mono">{{ n + 1 }}</th>
          <td v-for="(cell, k) in row" :key="k">
            <input
              class="mono"
              inputmode="decimal"
              autocomplete="off"
              :aria-label="`Reading ${n + 1}, ${declared[k]?.noun}`"
              :data-cell="`${n}-${k}`"
              :value="cell"
              @input="table.put(n, k, ($event.target as HTMLInputElement).value)"
              @keydown.enter.prevent="enter"
            />
          </td>
        </tr>
        <tr v-if="means.length" class="mean">
          <th scope="row">Mean</th>
          <td v-for="(mean, k) in means" :key="k" class="mono">{{ mean.value }}</td>
        </tr>
        <tr v-if="means.some((mean) => mean.spread != null)" class="spread">
          <th scope="row"><abbr title="standard deviation of the readings">±</abbr></th>
          <td v-for="(mean, k) in means" :key="k" class="mono">{{ mean.spread?.toFixed(2) }}</td>
        </tr>
      </tbody>
    </table>
    <button type="button" class="press more" @click="table.more">One more reading</button>
    <label v-if="declared.some((each) => each.may_exceed)" class="beyond"
      ><input v-model="beyond" type="checkbox" /> more than this: it was not over yet</label
    >
    <p v-if="says" class="caution" role="alert">{{ says }}</p>
    <div class="row">
      <button class="press press-main keep">Keep&nbsp;<span class="mono">↵</span></button>
      <button v-if="hasInstrument()" type="button" class="press" :disabled="isBusy" @click="read">
        <u>R</u>&nbsp;{{ isBusy ? 'reading…' : `read the ${declared[0]?.instrument}` }}
      </button>
    </div>
  </form>
</template>

<style scoped>
.measures {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
caption {
  padding-bottom: 6px;
  font-weight: 700;
  text-align: left;
}
th {
  padding: 2px 6px 2px 0;
  color: var(--quiet);
  font-size: 13px;
  font-weight: 400;
  text-align: left;
}
thead th:not(:first-child) {
  padding-right: 9px;
  text-align: right;
}
td {
  padding: 2px 0 2px 4px;
}
input.mono {
  width: 100%;
  min-height: 44px;
  padding: 0 8px;
  border: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink);
  font-size: 16px;
  text-align: right;
}
.mean td,
.spread td {
  padding-right: 9px;
  text-align: right;
}
.mean td,
.mean th {
  padding-top: 8px;
  color: var(--ink);
  font-weight: 700;
}
abbr {
  text-decoration: none;
}
.unseen {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}
.more {
  align-self: flex-start;
}
.beyond {
  display: flex;
  gap: 8px;
  align-items: center;
}
/* On a phone what keeps stands at the thumb. */
@media (max-width: 640px) {
  .measures .row {
    position: fixed;
    right: 0;
    bottom: 0;
    left: 0;
    z-index: 20;
    padding: 8px 12px calc(8px + env(safe-area-inset-bottom));
    border-top: 1px solid var(--line);
    background: var(--paper);
  }
  .keep {
    flex: 1;
    min-height: 52px;
  }
}
</style>
