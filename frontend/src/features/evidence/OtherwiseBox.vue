<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { responseOf } from '@/kit/responses'
import { meanText } from './axis'
import { keyOf, titleOf } from './model'

/** What would be said if what was left out had counted. */
const props = defineProps<{
  leftOut: readonly Schemas['LeftOut'][]
  /** Nothing while it is being weighed. */
  found: Schemas['Otherwise'] | null
  trouble: string
  names: ReadonlyMap<string, string>
  response: string
}>()
const MOST = 8
const noun = computed(() => (responseOf(props.response).form === 'derived' ? 'result' : 'reading'))
const text = (mean: number | null) => (mean == null ? 'nothing' : meanText(props.response, mean))
</script>

<template>
  <section class="sheet part">
    <h2>With what was left out</h2>
    <p>
      <template v-for="(each, n) in leftOut" :key="each.why"
        >{{ n ? '; ' : '' }}{{ each.n_rows }} {{ noun }}{{ each.n_rows === 1 ? '' : 's' }}
        {{ each.why }}</template
      >. <template v-if="found">If all of it had counted:</template>
      <span v-else class="quiet">{{ trouble || 'Weighing it with them…' }}</span>
    </p>
    <ul v-if="found">
      <li v-for="pair in found.pairs.slice(0, MOST)" :key="`${keyOf(pair)}|${pair.a}|${pair.b}`">
        <b>{{ titleOf(names, pair) }}:</b> {{ pair.a }} and {{ pair.b }} would be {{ pair.otherwise }}, and
        are {{ pair.verdict }}.
      </li>
      <li v-for="mean in found.means.slice(0, MOST)" :key="`${keyOf(mean)}|${mean.system}`">
        <b>{{ titleOf(names, mean) }}:</b> {{ mean.system }} would have {{ text(mean.otherwise) }}, and has
        {{ text(mean.mean) }}.
      </li>
      <li v-if="!found.pairs.length && !found.means.length">nothing would be otherwise.</li>
      <li v-else-if="found.pairs.length > MOST || found.means.length > MOST" class="quiet">
        and {{ Math.max(found.pairs.length - MOST, 0) + Math.max(found.means.length - MOST, 0) }} more.
      </li>
      <li v-if="found.means.length && !found.pairs.length">Every verdict would stay.</li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  margin: 8px 0 0;
  padding-left: 18px;
}
</style>
