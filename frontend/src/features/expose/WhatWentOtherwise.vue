<script setup lang="ts">
import { ref } from 'vue'
import type { Schemas } from '@/api/client'
import { said } from '@/kit/units'
import WentWrong from './WentWrong.vue'
import type { Expose } from './model'

/** Lifts that came late or early, skipped acts, cold blocks: somebody decides whether each counts. And what was left out. */
const props = defineProps<{
  view: Expose
  trialId: number
  decide: (wants: Schemas['SpotWentWrongRequest']) => Promise<string>
}>()
const open = ref('')
const trouble = ref('')
const MOST = 12

function nameOf(test: string): string {
  return props.view.tests.find((each) => each.id === test)?.short_name ?? test
}
function isPlaced(test: string): boolean {
  return props.view.tests.find((each) => each.id === test)?.is_placed ?? false
}
async function countAgain(panel: string, exposure: string): Promise<void> {
  trouble.value = await props.decide({ what: 'count', panel, exposure, reason: '' })
}
</script>

<template>
  <section
    v-if="view.missed.length || view.left_out.length"
    class="sheet otherwise"
    aria-labelledby="otherwise"
  >
    <h2 id="otherwise">What went otherwise</h2>
    <ul>
      <template v-for="each in view.missed.slice(0, MOST)" :key="each.panel + each.key">
        <li>
          <span
            ><b>{{ each.judgement === 'spoiled' ? 'Spoiled' : 'Deviation' }}</b> · {{ said(each.says) }}</span
          >
          <button class="press" @click="open = open === each.panel + each.key ? '' : each.panel + each.key">
            Decide…
          </button>
        </li>
        <li v-if="open === each.panel + each.key" class="whole">
          <WentWrong
            :panel="each.panel"
            :test="each.exposure"
            :test-name="nameOf(each.exposure)"
            :is-placed="isPlaced(each.exposure)"
            :trial-id="trialId"
            :says="said(each.says)"
            :decide="decide"
            @close="open = ''"
          />
        </li>
      </template>
      <li v-if="view.missed.length > MOST" class="quiet">And {{ view.missed.length - MOST }} more.</li>
      <li v-for="each in view.left_out" :key="each.panel + each.test">
        <span
          ><b>Left out</b> · {{ each.panel }}, {{ nameOf(each.test) }}: <q>{{ each.reason }}</q></span
        >
        <button class="press" @click="countAgain(each.panel, each.test)">Count it again</button>
      </li>
    </ul>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
  </section>
</template>

<style scoped>
.otherwise {
  padding: 12px 16px;
}
ul {
  margin: 8px 0 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 4px 12px;
  min-height: 44px;
  padding: 6px 0;
  border-top: 1px solid var(--hairline);
}
.whole {
  display: block;
}
</style>
