<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { quantityOf, said } from '@/kit/units'
import { clockOf } from './model'

/** What was done so far, newest first, and what went otherwise. */
const props = defineProps<{
  log: Schemas['BenchLog']
  zone: string
  trialId: number
  isSimulated: boolean
}>()
const SHOWN = 24
const JUDGED = { usable: 'Noted', deviation: 'Deviation', spoiled: 'Spoiled' } as const

const showsAll = ref(false)
const works = computed(() => (showsAll.value ? props.log.works : props.log.works.slice(0, SHOWN)))
const missed = computed(() =>
  [...props.log.missed].sort(
    (a, b) => Object.keys(JUDGED).indexOf(b.judgement) - Object.keys(JUDGED).indexOf(a.judgement),
  ),
)
function air(work: Schemas['LoggedWork']): string {
  const parts = [
    work.temperature_c === null ? '' : quantityOf('celsius', work.temperature_c),
    work.humidity_pct === null ? '' : `${work.humidity_pct} %`,
    work.block_c === null ? '' : `block ${quantityOf('celsius', work.block_c)}`,
    work.weight_g === null ? '' : quantityOf('grams', work.weight_g),
    work.mix,
    work.pour && `pour ${work.pour}`,
  ]
  return parts.filter(Boolean).join(', ')
}
/** "K7 2, T2 3, R4 4 and perhaps more": what took all there were was not told to be even. */
function tookWords(taken: Schemas['CoatsTaken']): string {
  return taken.layer.panels
    .map((each) => `${each.panel} ${each.n_coats}${each.is_even ? '' : ', not said to be even'}`)
    .join('; ')
}
function dayOf(moment: string | null): string {
  if (!moment) return ''
  const day = new Date(moment).toLocaleDateString('en-GB', {
    timeZone: props.zone,
    day: 'numeric',
    month: 'short',
  })
  return `${day} ${clockOf(moment, props.zone, true)}`
}
</script>

<template>
  <section class="log" aria-labelledby="log-title">
    <h2 id="log-title">Log</h2>
    <p v-if="isSimulated" class="quiet">Demo: what was logged before you came is simulated.</p>
    <ul v-if="missed.length" class="sheet missed">
      <li v-for="each in missed" :key="each.panel + each.key" :class="each.judgement">
        <strong>{{ JUDGED[each.judgement] }}.</strong> {{ said(each.says) }}
        <span v-if="each.judgement === 'spoiled'"
          ><RouterLink :to="`/trials/${trialId}/prepare#deviations`">Replace the panel</RouterLink></span
        >
      </li>
    </ul>
    <p v-if="missed.some((each) => each.judgement !== 'usable')" class="quiet">
      Deviations stand in the trial’s record and on its evidence page; an entry that is taken back withdraws
      them.
    </p>
    <div v-if="log.taken.length" class="scroll">
      <table class="plain">
        <caption>
          Coats until the sheen was even
        </caption>
        <thead>
          <tr>
            <th scope="col">Build-up</th>
            <th scope="col">Coated with</th>
            <th scope="col">Each panel took</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="each in log.taken" :key="each.build_up_id + each.layer.product">
            <td>{{ each.build_up }}</td>
            <td>{{ each.layer.product }}, at most {{ each.layer.most }}</td>
            <td>{{ tookWords(each) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="!log.works.length" class="quiet">Nothing has been logged yet.</p>
    <div v-else class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Panel</th>
            <th scope="col">Work</th>
            <th scope="col">Begun</th>
            <th scope="col">Done</th>
            <th scope="col">By</th>
            <th scope="col">Read</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(work, index) in works" :key="index">
            <td class="mono">{{ work.panel }}</td>
            <td>
              {{ work.what }}<span v-if="work.is_even">: {{ work.skipped_because }}</span
              ><span v-else-if="work.skipped_because" class="caution">
                skipped: {{ work.skipped_because }}</span
              >
            </td>
            <td class="mono">{{ dayOf(work.begun_at) }}</td>
            <td class="mono">{{ dayOf(work.ended_at) }}</td>
            <td>{{ work.hands.split(' ')[0] }}</td>
            <td class="mono">{{ air(work) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <button v-if="log.works.length > SHOWN" class="press more" @click="showsAll = !showsAll">
      {{ showsAll ? 'The newest alone' : `All ${log.works.length}` }}
    </button>
  </section>
</template>

<style scoped>
.log {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.missed {
  margin: 0;
  padding: 10px 16px;
  list-style: none;
}
.missed li {
  padding: 4px 0 4px 10px;
  border-left: 4px solid var(--line);
}
.missed li + li {
  margin-top: 6px;
}
.missed .deviation {
  border-left-color: var(--due);
}
.missed .spoiled {
  border-left-color: var(--late);
}
caption {
  padding-bottom: 4px;
  font-weight: 600;
  text-align: left;
}
.more {
  align-self: flex-start;
}
</style>
