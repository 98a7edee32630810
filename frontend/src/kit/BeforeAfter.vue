<script setup lang="ts">
import { computed, ref, useTemplateRef, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { photographAddress, photographWords } from './photographs'

/** Two photographs of one place over each other, and an edge that is drawn across them. */
const props = defineProps<{
  photographs: readonly Schemas['Photograph'][]
  testName?: string
  start?: number
}>()
const emit = defineEmits<{ close: [] }>()

const left = ref(0)
const right = ref(0)
const edge = ref(50)
const dialog = useTemplateRef<HTMLDialogElement>('dialog')
const closer = useTemplateRef<HTMLButtonElement>('closer')

watch(
  () => [props.photographs.length, props.start] as const,
  ([n, start]) => {
    left.value = 0
    right.value = start && start < n ? start : Math.max(0, n - 1)
  },
  { immediate: true },
)
watch(dialog, (found) => {
  // Browsers without a modal dialog show it in its place.
  if (found && !found.open) (found.showModal ?? found.show)?.call(found)
  closer.value?.focus()
})
const words = (index: number) => {
  const found = props.photographs[index]
  return found ? photographWords(found, props.testName) : ''
}
const chosen = (event: Event) => Number((event.target as HTMLSelectElement).value)
const isPair = computed(() => props.photographs.length > 1 && left.value !== right.value)
const address = (index: number) => photographAddress(props.photographs[index]?.id ?? 0, 'view')
const lookOf = (each: Schemas['Photograph']) =>
  `${each.look_name} · ${new Date(each.taken_at).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' })}`
</script>

<template>
  <dialog ref="dialog" class="sheet both" aria-labelledby="both-title" @close="emit('close')" @keydown.stop>
    <header class="row">
      <h2 id="both-title">{{ words(right) }}</h2>
      <button ref="closer" class="press" @click="emit('close')">Close</button>
    </header>
    <figure class="pictures">
      <img :src="address(right)" :alt="words(right)" />
      <img
        v-if="isPair"
        class="over"
        :src="address(left)"
        :alt="words(left)"
        :style="{ clipPath: `inset(0 ${100 - edge}% 0 0)` }"
      />
      <span v-if="isPair" class="edge" :style="{ left: `${edge}%` }" aria-hidden="true" />
    </figure>
    <label v-if="isPair" class="slide">
      <span>Before</span>
      <input
        v-model.number="edge"
        type="range"
        min="0"
        max="100"
        aria-label="Where before ends and after begins"
      />
      <span>After</span>
    </label>
    <div v-if="photographs.length > 1" class="row choose">
      <label
        >Before
        <select :value="left" @change="left = chosen($event)">
          <option v-for="(each, index) in photographs" :key="each.id" :value="index">
            {{ lookOf(each) }}
          </option>
        </select></label
      >
      <label
        >After
        <select :value="right" @change="right = chosen($event)">
          <option v-for="(each, index) in photographs" :key="each.id" :value="index">
            {{ lookOf(each) }}
          </option>
        </select></label
      >
    </div>
    <p v-else class="quiet">
      One photograph of this place so far: with a second one they can be held against each other.
    </p>
  </dialog>
</template>

<style scoped>
.both {
  width: min(1100px, calc(100vw - 24px));
  max-height: calc(100vh - 24px);
  margin: auto;
  padding: 14px 16px;
  border: 1px solid var(--line);
  background: var(--ground);
  color: var(--ink);
  overflow: auto;
}
.both::backdrop {
  background: rgb(0 0 0 / 55%);
}
header {
  justify-content: space-between;
  margin-bottom: 10px;
}
h2 {
  font-size: 18px;
}
.pictures {
  position: relative;
  margin: 0;
  background: var(--rail);
}
.pictures img {
  display: block;
  width: 100%;
  max-height: 62vh;
  object-fit: contain;
}
.over {
  position: absolute;
  inset: 0;
  height: 100%;
}
.edge {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 3px;
  margin-left: -1px;
  background: var(--accent);
}
.slide {
  display: grid;
  grid-template-columns: auto 1fr auto;
  align-items: center;
  gap: 12px;
  min-height: 48px;
}
.slide input {
  accent-color: var(--accent);
}
.choose {
  flex-wrap: wrap;
  gap: 8px 18px;
}
select {
  min-height: 44px;
  padding: 0 8px;
  border: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink);
  max-width: 100%;
}
</style>
