<script setup lang="ts">
import { computed } from 'vue'
import { pText } from '@/kit/scale'
import type { TestEvidence } from './model'

/** Whether what one side of a crossing does depends on the other, in words; the test of it below. */
const props = defineProps<{ test: TestEvidence; meetings: TestEvidence['effects'] }>()

const sides = (effect: string) => effect.split(':').map((side) => (side === 'system' ? 'build-up' : side))
const clear = computed(() => props.meetings.filter((each) => each.p < props.test.alpha))
/** Those that are said: what is clear, or that nothing is. */
const shown = computed(() => (clear.value.length ? clear.value : props.meetings))
function says(effect: string): string {
  const [first = '', ...others] = sides(effect)
  const last = others.at(-1) ?? ''
  return others.length === 1
    ? `what the ${last} does is not the same on every ${first}`
    : `how ${first} and ${others.slice(0, -1).join(', ')} act together is not the same for every ${last}`
}
const termOf = (each: TestEvidence['effects'][number]) =>
  `${sides(each.effect).join(' × ')}: F ${each.f.toFixed(2)} on ${each.df[0]} and ${each.df[1]}, p ${pText(each.p)}`
const plain = computed(() => {
  const [only, another] = props.meetings
  if (!only) return ''
  if (another) return 'What one factor does is not shown to depend on the others.'
  const [first, last] = sides(only.effect)
  return `What the ${last} does is not shown to depend on the ${first}.`
})
</script>

<template>
  <p v-if="meetings.length" class="says">
    <template v-for="(each, at) in clear" :key="each.effect"
      ><b v-if="at === 0"
        >It depends on {{ clear.length > 1 || sides(each.effect).length > 2 ? 'more than one' : 'both' }}: </b
      >{{ at ? '; ' : '' }}{{ says(each.effect) }}</template
    ><template v-if="clear.length && test.odd">; the framed cell breaks the rule most</template
    ><template v-if="clear.length">.</template><template v-else>{{ plain }}</template>
    <small class="quiet"> ({{ shown.map(termOf).join('; ') }})</small>
  </p>
</template>

<style scoped>
.says {
  margin: 12px 0 0;
}
</style>
