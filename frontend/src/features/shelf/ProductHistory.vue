<script setup lang="ts">
import { computed } from 'vue'
import { api, body } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import IntervalBar from '@/kit/IntervalBar.vue'
import SaveButtons from '@/kit/SaveButtons.vue'
import { nameWithin, responseOf } from '@/kit/responses'
import { csvText } from '@/kit/save'
import { signedText } from '@/kit/scale'

/** What finished trials showed of a product, by its difference from benchmarks that stood beside it. */
const props = defineProps<{ productId: number }>()
const {
  data: found,
  trouble,
  load,
} = useLoaded(
  () =>
    body(
      api.GET('/api/shelf/products/{item_id}/history', { params: { path: { item_id: props.productId } } }),
    ),
  [() => props.productId],
)
/** How far the axis of a response reaches to both sides: each has its own unit. */
const reach = computed(() => {
  const most = new Map<string, number>()
  for (const { response, pooled } of found.value?.tests ?? [])
    most.set(response, Math.max(most.get(response) ?? 1, Math.abs(pooled.low), Math.abs(pooled.high)))
  return most
})
const unitOf = (response: string) => responseOf(response).unit
const csv = () =>
  csvText(
    ['test', 'read', 'benchmark', 'trials', 'difference', 'low', 'high', 'tau', 'i2', 'p of heterogeneity'],
    (found.value?.tests ?? []).map((each) => [
      each.name,
      each.response_name,
      each.benchmark,
      each.pooled.trials.length,
      each.pooled.mean,
      each.pooled.low,
      each.pooled.high,
      each.pooled.tau,
      each.pooled.i2,
      each.pooled.p,
    ]),
  )
</script>

<template>
  <p v-if="trouble" class="late" role="alert">
    What finished trials showed cannot be told: {{ trouble }}
    <button class="press" @click="load">Try again</button>
  </p>
  <section v-else-if="found && found.n_trials" class="sheet part">
    <header class="row">
      <h2 class="grow">What finished trials showed</h2>
      <SaveButtons v-if="found.tests.length" name="finished trials" :csv="csv" />
    </header>
    <p class="quiet">
      In {{ found.n_trials }} finished {{ found.n_trials === 1 ? 'trial' : 'trials' }}, in
      {{ found.n_compared }} beside a benchmark. Judges, days and woods move every mean, so only the
      difference from what stood on the same boards is put together.
      <b v-if="found.is_simulated" class="caution">Simulated.</b>
    </p>
    <p v-if="!found.tests.length">
      Name a build-up a benchmark under Candidates and let it stand in each trial: then trials can be
      compared.
    </p>
    <div
      v-else
      class="scroll"
      tabindex="0"
      role="region"
      aria-label="Differences from benchmarks over finished trials"
    >
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Test</th>
            <th scope="col">Against</th>
            <th scope="col">Better by <span class="quiet">(95 %)</span></th>
            <th scope="col">Trials</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="each in found.tests" :key="`${each.response}|${each.benchmark}|${each.test}`">
            <th scope="row">
              {{ each.name }} <small class="quiet">{{ nameWithin(each.response) }}</small>
            </th>
            <td>{{ each.benchmark }}</td>
            <td>
              <b class="mono">{{ signedText(each.pooled.mean) }}</b> {{ unitOf(each.response) }}
              <small class="quiet by">
                {{ signedText(each.pooled.low) }} to {{ signedText(each.pooled.high) }}</small
              >
              <IntervalBar
                :from="-(reach.get(each.response) ?? 1)"
                :to="reach.get(each.response) ?? 1"
                :mean="each.pooled.mean"
                :low="each.pooled.low"
                :high="each.pooled.high"
              />
            </td>
            <td>
              <span :class="{ caution: each.pooled.p != null && each.pooled.p < 0.1 }">{{
                each.pooled.says
              }}</span>
              <details>
                <summary class="quiet">each trial</summary>
                <ul>
                  <li v-for="one in each.pooled.trials" :key="one.trial">
                    {{ one.trial }}: {{ signedText(one.difference) }}
                    <small class="quiet">(SE {{ one.se.toFixed(2) }})</small>
                  </li>
                </ul>
                <small v-if="each.pooled.tau != null" class="quiet"
                  >random effects, DerSimonian–Laird; τ {{ each.pooled.tau.toFixed(2) }}, I²
                  {{ Math.round(100 * (each.pooled.i2 ?? 0)) }} %<template v-if="each.pooled.next_low != null"
                    >; one more such trial {{ signedText(each.pooled.next_low) }} to
                    {{ signedText(each.pooled.next_high ?? 0) }}</template
                  ></small
                >
              </details>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.plain td,
.plain th {
  min-width: 110px;
  padding: 6px 12px 6px 0;
  text-align: left;
  vertical-align: top;
}
.by {
  margin-left: 8px;
}
ul {
  margin: 4px 0;
  padding-left: 18px;
}
</style>
