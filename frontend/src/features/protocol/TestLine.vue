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
  type Composed,
  type Draft,
  type Test,
} from './model'

/** One test of the draft on the rule of time: bars for what touches, is hot or waits, rings for the looks. */
const props = defineProps<{
  draft: Draft
  test: Test
  about: Composed['tests'][number]
  isChosen: boolean
}>()
defineEmits<{ choose: [] }>()

const mm = (value: number) => quantityOf('millimetres', value)
const celsius = (value: number) => quantityOf('celsius', value)
const sub = computed(() =>
  [siteText(props.test, mm), severityText(props.test, celsius)].filter(Boolean).join(' · '),
)
const looks = computed(() => {
  const names = new Map(looksOf(props.draft, props.test).map((look) => [look.id, look.name]))
  return props.about.timeline.looks.map((seen) => ({ ...seen, name: names.get(seen.look) ?? seen.look }))
})
const says = computed(
  () => `${actsText(props.test)}; looks: ${looks.value.map((look) => look.name).join(', ')}`,
)
</script>

<template>
  <button class="line" :class="{ chosen: isChosen }" :aria-pressed="isChosen" @click="$emit('choose')">
    <span class="what">
      <b>{{ test.name }}</b>
      <small class="quiet">{{ sub }}</small>
    </span>
    <span class="track" role="img" :aria-label="says">
      <i v-for="tick in TICKS" :key="tick.min" class="grid" :style="{ left: `${onRule(tick.min)}%` }" />
      <i
        v-for="(bar, index) in about.timeline.bars"
        :key="index"
        class="bar"
        :class="bar.kind"
        :style="{
          left: `${onRule(bar.from_min)}%`,
          width: `${Math.max(1, onRule(bar.to_min) - onRule(bar.from_min))}%`,
        }"
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
    <span class="takes quiet">{{ takesText(test, about.asked.has_own_panel) }}</span>
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
