<script setup lang="ts">
import { computed } from 'vue'
import { pText } from '@/kit/scale'
import { sortedPairs, type TestEvidence } from './model'

/** Every pair of one test: difference, its interval, and Tukey's p. */
const props = defineProps<{ test: TestEvidence; title: string }>()
const pairs = computed(() => sortedPairs(props.test))

function sides(pair: TestEvidence['pairs'][number]): [string, string] {
  return pair.difference >= 0 ? [pair.a, pair.b] : [pair.b, pair.a]
}
function interval(pair: TestEvidence['pairs'][number]): string {
  if (!pair.ci) return '–'
  const [low = 0, high = 0] = pair.difference >= 0 ? pair.ci : [-(pair.ci[1] ?? 0), -(pair.ci[0] ?? 0)]
  return `${low.toFixed(1)} to ${high.toFixed(1)}`
}
</script>

<template>
  <div>
    <p class="head">{{ title }}: pairs, Tukey-adjusted</p>
    <div class="scroll" tabindex="0" role="region" :aria-label="`Pairs of ${title}`">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Better</th>
            <th scope="col">Worse</th>
            <th scope="col" class="figure">By</th>
            <th scope="col" class="figure">95 %</th>
            <th scope="col" class="figure">p</th>
            <th scope="col">Told apart</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="pair in pairs"
            :key="`${pair.a}|${pair.b}`"
            :class="{ quiet: pair.told_apart === false }"
          >
            <td>{{ sides(pair)[0] }}</td>
            <td>{{ sides(pair)[1] }}</td>
            <td class="figure">{{ Math.abs(pair.difference).toFixed(2) }}</td>
            <td class="figure">{{ interval(pair) }}</td>
            <td class="figure">{{ pText(pair.p_tukey) }}</td>
            <td>{{ pair.told_apart === null ? 'cannot say' : pair.told_apart ? 'yes' : 'no' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.head {
  margin-bottom: 8px;
  font-weight: 600;
}
.plain .figure {
  white-space: nowrap;
}
.scroll {
  max-height: 380px;
  overflow: auto;
}
.plain td,
.plain th {
  padding: 5px 12px 5px 0;
  font-size: 14px;
}
thead th {
  position: sticky;
  top: 0;
  background: var(--paper);
}
</style>
