<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { responseOf, valueWords, viewWords } from '@/kit/responses'

/** What follows from what was measured: of the site in hand, and of the one measured just before. */
const props = defineProps<{
  here: readonly Schemas['WorkedOut'][]
  last: { panel: string; exposure: string; found: readonly Schemas['WorkedOut'][] } | null
  isLastHere: boolean
}>()
const shown = computed(() => {
  if (props.here.length) return { title: 'Follows from it', found: props.here }
  return props.last && !props.isLastHere
    ? { title: `Just measured: ${props.last.panel}`, found: props.last.found }
    : null
})
const LATE = ['hue', 'delta-l', 'delta-b']
const ordered = computed(() =>
  [...(shown.value?.found ?? [])].sort((a, b) => LATE.indexOf(a.response) - LATE.indexOf(b.response)),
)
</script>

<template>
  <section v-if="shown" class="follows" aria-live="polite">
    <h3>{{ shown.title }}</h3>
    <dl>
      <template v-for="each in ordered" :key="`${each.response} ${each.view}`">
        <dt>
          {{ responseOf(each.response).name
          }}<template v-if="each.view">, {{ viewWords(each.view).toLowerCase() }}</template>
        </dt>
        <dd class="mono">{{ valueWords(each.response, each.value) }}</dd>
      </template>
    </dl>
  </section>
</template>

<style scoped>
.follows {
  padding: 8px 10px;
  border-left: 3px solid var(--accent);
}
h3 {
  font-size: 14px;
}
dl {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 12px;
  margin: 4px 0 0;
}
dd {
  margin: 0;
  text-align: right;
}
</style>
