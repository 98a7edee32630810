<script setup lang="ts">
import { computed } from 'vue'
import { responseOf } from '@/kit/responses'
import { pText } from '@/kit/scale'
import SaveButtons from '@/kit/SaveButtons.vue'
import { csvText } from '@/kit/save'
import { sortedPairs, type PairEvidence, type TestEvidence } from './model'

/** Every pair of one test, in three answers: told apart, alike, open. */
const props = defineProps<{ test: TestEvidence; response: string; title: string }>()

const better = computed(() => responseOf(props.response).better)

/** Pairs of each kind: of build-ups, and where panels have sections of sections and of both. */
const kinds = computed(() => {
  const own = props.test.sections
  const found: { name: string; pairs: PairEvidence[] }[] = [{ name: 'build-ups', pairs: props.test.pairs }]
  if (own) {
    found.push({ name: 'sections', pairs: own.sections.pairs })
    found.push({ name: 'sections on one build-up', pairs: own.within_system })
    found.push({ name: 'build-ups at one section', pairs: own.within_section })
  }
  for (const margin of props.test.margins)
    found.push({ name: margin.factor.toLowerCase(), pairs: margin.pairs })
  return found
    .map((each) => ({ ...each, pairs: sortedPairs(each.pairs) }))
    .filter((each) => each.pairs.length)
})
const isRatio = computed(() => props.test.told_as === 'ratio')
/** From high to low, or from low to high where low is better; a ratio below one is turned as well. */
const isTurned = (pair: PairEvidence) => {
  const sign = better.value === 'low' && props.test.told_as !== 'rank' ? -1 : 1
  const size = isRatio.value ? Math.log(pair.difference ?? 1) : (pair.difference ?? 0)
  return sign * size < 0
}
const sides = (pair: PairEvidence): [string, string] => (isTurned(pair) ? [pair.b, pair.a] : [pair.a, pair.b])
function by(pair: PairEvidence): string {
  if (pair.difference == null || ['time', 'share', 'preference'].includes(props.test.told_as)) return '–'
  if (isRatio.value) return `× ${Math.max(pair.difference, 1 / pair.difference).toFixed(2)}`
  return Math.abs(pair.difference).toFixed(2)
}
function interval(pair: PairEvidence): string {
  if (!pair.ci) return '–'
  let [low = 0, high = 0] = pair.ci
  if (isRatio.value) {
    if ((pair.difference ?? 1) < 1) [low, high] = [1 / high, 1 / low]
  } else if ((pair.difference ?? 0) < 0) [low, high] = [-high, -low]
  return `${low.toFixed(1)} to ${high.toFixed(1)}`
}
function verdict(pair: PairEvidence): string {
  if (pair.told_apart === null) return 'cannot say'
  return pair.disagrees ? 'open: the two tests disagree' : pair.verdict
}
const csv = () =>
  csvText(
    ['of', 'at', 'a', 'b', 'difference', 'low', 'high', 'p_tukey', 'p_permutation', 'verdict'],
    kinds.value.flatMap((kind) =>
      kind.pairs.map((pair) => [
        kind.name,
        pair.at,
        pair.a,
        pair.b,
        pair.difference,
        pair.ci?.[0],
        pair.ci?.[1],
        pair.p_tukey,
        pair.p_permutation,
        pair.verdict,
      ]),
    ),
  )
/** At the stages of a trial that is looked at several times intervals are wider, as the limits are. */
const level = computed(() => Number((100 * (1 - props.test.alpha)).toFixed(2)))
</script>

<template>
  <div>
    <header class="row head">
      <p class="grow">{{ title }}: who differs from whom</p>
      <SaveButtons :name="`${title} pairs`" :csv="csv" />
    </header>
    <div class="scroll" tabindex="0" role="region" :aria-label="`Pairs of ${title}`">
      <table v-for="kind in kinds" :key="kind.name" class="plain">
        <caption v-if="kinds.length > 1">
          {{
            kind.name
          }}
        </caption>
        <thead>
          <tr>
            <th scope="col">{{ better ? 'The better, over the worse' : 'The higher, over the lower' }}</th>
            <th scope="col">Verdict</th>
            <th scope="col" class="figure">By</th>
            <th scope="col" class="figure">{{ level }} %</th>
            <th scope="col" class="figure">
              <abbr title="Tukey–Kramer, over all pairs of this kind">p</abbr>
            </th>
            <th scope="col" class="figure">
              <abbr title="permutation within boards, largest |t| over all pairs of this kind">p dealt</abbr>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="pair in kind.pairs"
            :key="`${pair.at}|${pair.a}|${pair.b}`"
            :class="{ quiet: pair.verdict !== 'told apart' }"
          >
            <td>
              {{ sides(pair)[0] }}<span class="over"> over {{ sides(pair)[1] }}</span>
              <small v-if="pair.at" class="quiet">on {{ pair.at }}</small>
            </td>
            <td>{{ verdict(pair) }}</td>
            <td class="figure">{{ by(pair) }}</td>
            <td class="figure">{{ interval(pair) }}</td>
            <td class="figure">{{ pText(pair.p_tukey) }}</td>
            <td class="figure">{{ pText(pair.p_permutation) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.head {
  align-items: start;
  margin-bottom: 8px;
  font-weight: 600;
}
caption {
  padding: 8px 0 4px;
  font-weight: 600;
  text-align: left;
}
.plain .figure {
  white-space: nowrap;
}
.scroll {
  max-height: 440px;
  overflow: auto;
}
.plain td,
.plain th {
  padding: 5px 8px 5px 0;
  font-size: 13px;
}
.over {
  display: block;
}
abbr {
  text-decoration: none;
}
thead th {
  position: sticky;
  top: 0;
  background: var(--paper);
}
</style>
