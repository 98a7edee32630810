<script setup lang="ts">
import { spanOf } from '@/app/dueWords'
import { said } from '@/kit/units'
import { siteKey, type Step } from './model'

/** What is lying, what is wanted next at the head: how long, how it is ended, give or take how much. */
defineProps<{ lying: readonly Step[]; now: number; stopped: Readonly<Record<string, number>> }>()
defineEmits<{ take: [key: string]; watch: [step: Step] }>()

function left(step: Step, now: number): string {
  const wanted = step.closes === null ? step.opens : step.aim
  if (wanted === null) return 'when logged'
  if (wanted > now) return spanOf(Math.ceil((wanted - now) / 1000) * 1000)
  return step.closes === null ? 'may be done' : `${spanOf(now - wanted)} over`
}
function isLate(step: Step, now: number): boolean {
  return step.closes !== null && now > step.closes
}
function giveOrTake(step: Step): string {
  const { aim, closes } = step
  if (aim === null || closes === null) return ''
  const seconds = Math.round((closes - aim) / 1000)
  return seconds < 90
    ? `± ${seconds} s`
    : seconds < 5400
      ? `± ${Math.round(seconds / 60)} min`
      : `within ${spanOf(closes - aim)}`
}
const isWatched = (step: Step) =>
  step.act.observations.some((each) => each.prompts.some((prompt) => prompt.response === 'soak-in'))
</script>

<template>
  <section class="sheet lying" aria-labelledby="lying">
    <h2 id="lying">What is lying <span class="quiet">next first</span></h2>
    <p v-if="lying.length === 0" class="quiet none">Nothing lies on any panel of this trial.</p>
    <ul>
      <li v-for="step in lying.slice(0, 12)" :key="siteKey(step.site)" :class="{ late: isLate(step, now) }">
        <button class="one" @click="$emit('take', siteKey(step.site))">
          <span class="mono left" data-timer>{{ left(step, now) }}</span>
          <b class="mono code">{{ step.site.panel }}</b>
          <span class="what"
            >{{ step.act.words
            }}<span v-if="step.act.how.length" class="quiet">, {{ said(step.act.how) }}</span></span
          >
          <span class="quiet slack">{{ giveOrTake(step) }}</span>
        </button>
        <button
          v-if="isWatched(step) && !stopped[siteKey(step.site)]"
          class="press"
          @click="$emit('watch', step)"
        >
          Soaked in
        </button>
        <span v-else-if="isWatched(step)" class="quiet">soaked in</span>
      </li>
    </ul>
    <p v-if="lying.length > 12" class="quiet none">And {{ lying.length - 12 }} more.</p>
  </section>
</template>

<style scoped>
.lying h2,
.none {
  padding: 12px 16px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  align-items: center;
  gap: 8px;
  border-top: 1px solid var(--hairline);
  border-left: 4px solid transparent;
}
li:first-child {
  border-left-color: var(--due);
}
li.late {
  border-left-color: var(--late, #b3261e);
}
.late .left {
  color: var(--late, #b3261e);
}
.one {
  display: grid;
  flex: 1;
  grid-template-columns: 96px 48px minmax(0, 1fr) auto;
  align-items: baseline;
  gap: 8px;
  min-height: 44px;
  padding: 6px 12px;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.left {
  font-size: 17px;
  font-weight: 700;
}
.slack {
  font-size: 13px;
}
</style>
