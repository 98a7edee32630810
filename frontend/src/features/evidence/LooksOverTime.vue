<script setup lang="ts">
import { computed } from 'vue'
import { api, body } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import IntervalBar from '@/kit/IntervalBar.vue'
import SaveButtons from '@/kit/SaveButtons.vue'
import { csvText } from '@/kit/save'
import { responseOf } from '@/kit/responses'
import { signedText } from '@/kit/scale'
import { axisOf } from './axis'
import EvidenceMark from './EvidenceMark.vue'
import { told } from './told'

/** A test look by look: the mark when the agent was lifted, what it is later, and what of it has gone. */
const props = defineProps<{
  trialId: number
  test: string
  response: string
  species: string
  section: string
  title: string
  control: string
}>()

const {
  data: found,
  trouble,
  load,
} = useLoaded(
  () =>
    body(
      api.GET('/api/trials/{trial_id}/evidence/looks', {
        params: {
          path: { trial_id: props.trialId },
          query: {
            test: props.test,
            response: props.response,
            species: props.species,
            section: props.section,
          },
        },
      }),
    ),
  [() => [props.trialId, props.test, props.response, props.species, props.section].join()],
)
const axis = computed(() =>
  axisOf(
    props.response,
    (found.value?.looks ?? []).map((each) => each.test),
  ),
)
const names = computed(() => {
  const last = found.value?.looks.at(-1)?.test.systems.map((row) => row.system) ?? []
  return [...last.filter((name) => name !== props.control), ...last.filter((name) => name === props.control)]
})
const rowOf = (test: { systems: readonly { system: string }[] } | null | undefined, system: string) =>
  test?.systems.find((row) => row.system === system) as
    NonNullable<typeof found.value>['looks'][number]['test']['systems'][number] | undefined
const changes = computed(() => found.value?.change?.systems ?? [])
const span = computed(() => {
  const ends = changes.value.flatMap((row) => [row.mean, ...(row.ci ?? [])]).filter((each) => each != null)
  const most = Math.max(...ends.map((each) => Math.abs(each)), 1)
  return { from: -most, to: most }
})
const isLow = computed(() => responseOf(props.response).better === 'low')
/** A change in words: what recovered, what got worse, what the interval leaves open. */
function changeText(row: { mean: number | null; ci: readonly number[] | null } | undefined): string {
  if (!row || row.mean == null) return '–'
  const by = signedText(row.mean, 1)
  const [low, high] = row.ci ?? []
  if (low == null || high == null) return by
  const isUp = low > 0
  const isDown = high < 0
  if (!isUp && !isDown) return `${by}, open`
  if (!responseOf(props.response).better) return `${by}, ${isUp ? 'rose' : 'fell'}`
  return `${by}, ${isUp !== isLow.value ? 'recovered' : 'got worse'}`
}
const csv = () =>
  csvText(
    ['build-up', ...(found.value?.looks ?? []).map((each) => each.name), 'change', 'low', 'high'],
    names.value.map((system) => [
      system,
      ...(found.value?.looks ?? []).map((each) => {
        const row = rowOf(each.test, system)
        return row ? told(props.response, each.test, row).text : ''
      }),
      rowOf(found.value?.change, system)?.mean,
      rowOf(found.value?.change, system)?.ci?.[0],
      rowOf(found.value?.change, system)?.ci?.[1],
    ]),
  )
</script>

<template>
  <p v-if="trouble" class="late" role="alert">
    {{ title }} over time cannot be shown: {{ trouble }}
    <button class="press" @click="load">Try again</button>
  </p>
  <section v-else-if="found && found.looks.length > 1" class="sheet part">
    <header class="row head">
      <h2 class="grow">{{ title }} over time</h2>
      <SaveButtons :name="`${title} over time`" :csv="csv" />
    </header>
    <div class="scroll" tabindex="0" role="region" :aria-label="`${title} look by look`">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Build-up</th>
            <th v-for="each in found.looks" :key="each.look" scope="col">{{ each.name }}</th>
            <th v-if="found.change" scope="col">
              From the first to the last <span class="quiet">(95 %, each panel against itself)</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="system in names" :key="system">
            <th scope="row" :class="{ quiet: system === control }">{{ system }}</th>
            <td v-for="each in found.looks" :key="each.look">
              <EvidenceMark
                v-if="rowOf(each.test, system)"
                :response="response"
                :test="each.test"
                :row="rowOf(each.test, system)!"
                :axis="axis"
              />
              <span v-else class="quiet">–</span>
            </td>
            <td v-if="found.change">
              {{ changeText(rowOf(found.change, system)) }}
              <IntervalBar
                v-if="rowOf(found.change, system)?.mean != null"
                :from="span.from"
                :to="span.to"
                :mean="rowOf(found.change, system)!.mean!"
                :low="rowOf(found.change, system)!.ci?.[0] ?? null"
                :high="rowOf(found.change, system)!.ci?.[1] ?? null"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.head {
  align-items: start;
}
.plain td,
.plain th {
  min-width: 110px;
  padding: 6px 12px 6px 0;
  text-align: left;
}
</style>
