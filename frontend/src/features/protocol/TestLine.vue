<script setup lang="ts">
import { computed } from 'vue'
import { quantityOf } from '@/kit/units'
import {
  actsText,
  looksOf,
  onRule,
  severityText,
  siteText,
  takesText,
  TICKS,
  type Draft,
  type Row,
} from './model'

/** A test of the draft, or a ladder of them, on the rule of time: bars for what touches, is hot or waits, rings for the looks. */
const props = defineProps<{
  draft: Draft
  row: Row
  /** Id of the test in hand, which may be one of a ladder's steps. */
  chosen: string
}>()
defineEmits<{ choose: [] }>()

const mm = (value: number) => quantityOf('millimetres', value)
const celsius = (value: number) => quantityOf('celsius', value)
const inHand = computed(() => props.row.steps.find((step) => step.test.id === props.chosen))
/** The step that is drawn whole: the one in hand, else the hardest. */
const shown = computed(() => inHand.value ?? props.row.steps.at(-1) ?? props.row.steps[0])
const ladder = computed(() => props.row.ladder)
const steps = computed(() => props.row.steps.map((step) => severityText(step.test, celsius)))
const sub = computed(() => {
  const site = siteText(shown.value.test, mm)
  if (!ladder.value) return [site, ...steps.value].filter(Boolean).join(' · ')
  return `${site} · ${steps.value.length} steps: ${steps.value.join(' → ')}`
})
/** Where the other steps of a ladder end. */
const marks = computed(() =>
  props.row.steps
    .filter((step) => step !== shown.value)
    .flatMap((step) => step.about.timeline.bars.slice(0, 1).map((bar) => ({ id: step.test.id, ...bar }))),
)
const looks = computed(() => {
  const names = new Map(looksOf(props.draft, shown.value.test).map((look) => [look.id, look.name]))
  return shown.value.about.timeline.looks.map((seen) => ({
    ...seen,
    name: names.get(seen.look) ?? seen.look,
  }))
})
const says = computed(
  () => `${actsText(shown.value.test)}; looks: ${looks.value.map((look) => look.name).join(', ')}`,
)
const takes = computed(() =>
  takesText(shown.value.test, shown.value.about.asked.has_own_panel, steps.value.length),
)
</script>

<template>
  <button class="line" :class="{ chosen: inHand }" :aria-pressed="Boolean(inHand)" @click="$emit('choose')">
    <span class="what">
      <b>{{ ladder?.name ?? shown.test.name }}</b>
      <small class="quiet">{{ sub }}</small>
    </span>
    <span class="track" role="img" :aria-label="says">
      <i v-for="tick in TICKS" :key="tick.min" class="grid" :style="{ left: `${onRule(tick.min)}%` }" />
      <i
        v-for="(bar, index) in shown.about.timeline.bars"
        :key="index"
        class="bar"
        :class="bar.kind"
        :style="{
          left: `${onRule(bar.from_min)}%`,
          width: `${Math.max(1, onRule(bar.to_min) - onRule(bar.from_min))}%`,
        }"
      />
      <i
        v-for="mark in marks"
        :key="mark.id"
        class="step"
        :class="mark.kind"
        :style="{ left: `${onRule(mark.to_min)}%` }"
      />
      <i
        v-for="look in looks"
        :key="look.look"
        class="look"
        :class="{ two: look.is_two }"
        :style="{ left: `${onRule(look.at_min)}%` }"
        :title="look.name"
      />
    </span>
    <span class="takes quiet">{{ takes }}</span>
  </button>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: minmax(150px, 4fr) minmax(0, 9fr) 64px;
  align-items: center;
  gap: 14px;
  width: 100%;
  min-height: 52px;
  padding: 4px 14px;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  background: none;
  color: var(--ink);
  font-size: 14px;
  text-align: left;
  cursor: pointer;
}
.line:hover,
.chosen {
  background: var(--paper);
}
.chosen {
  box-shadow: inset 4px 0 0 var(--accent);
}
.what {
  display: flex;
  flex-direction: column;
  min-width: 0;
}
.track {
  position: relative;
  height: 34px;
}
.grid {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 1px;
  background: var(--hairline);
}
.bar {
  position: absolute;
  top: 12px;
  height: 10px;
}
.step {
  position: absolute;
  top: 7px;
  width: 4px;
  height: 20px;
  margin-left: -4px;
}
.contact {
  background: var(--accent);
}
.hot {
  background: var(--heat, #b4472b);
}
.waits {
  background: var(--line);
  opacity: 0.7;
}
.look {
  position: absolute;
  top: 10px;
  width: 14px;
  height: 14px;
  margin-left: -7px;
  border: 2px solid var(--ink);
  border-radius: 50%;
  background: var(--paper);
}
.two {
  background: linear-gradient(var(--ink) 50%, var(--paper) 50%);
}
.takes {
  font-size: 12px;
  text-align: right;
}
@media (max-width: 640px) {
  .line {
    grid-template-columns: minmax(0, 1fr) 60px;
  }
  .track {
    grid-column: 1 / -1;
    grid-row: 2;
  }
}
</style>
