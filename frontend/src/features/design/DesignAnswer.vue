<script setup lang="ts">
import { computed } from 'vue'
import { said } from '@/kit/units'
import type { Outlook } from './model'
import OutlookCost from './OutlookCost.vue'
import PowerCurve from './PowerCurve.vue'

/** What this design can show, in a sentence and a curve, and what it costs. */
const props = defineProps<{ outlook: Outlook | null; trouble: string }>()
defineEmits<{ ask: [] }>()
/** A difference in its unit, or a ratio in per cent. */
const difference = (each: Outlook['others'][number], by: number | null) =>
  by == null ? 'none' : each.is_ratio ? `${(100 * by).toFixed(0)} %` : `${by.toPrecision(2)} ${each.unit}`
const power = computed(() => props.outlook?.outlook)
</script>

<template>
  <section class="sheet answer" aria-live="polite" aria-label="What this design can show">
    <div v-if="trouble" class="words">
      <p class="late" role="alert">{{ trouble }}</p>
      <button class="press" @click="$emit('ask')">Ask again</button>
    </div>
    <template v-else-if="outlook && power">
      <div class="words">
        <p class="first">{{ power.says[0] }}</p>
        <p v-if="outlook.spread_is_simulated" class="caution">Pooled from simulated readings.</p>
        <p v-for="says in power.says.slice(1)" :key="says">{{ says }}</p>
      </div>
      <PowerCurve :power="power" />
      <details v-if="outlook.others.length" class="wide words">
        <summary>
          What else is read, by what your finished trials show: {{ outlook.others.length }}
          {{ outlook.others.length === 1 ? 'measure' : 'measures' }}
        </summary>
        <table class="plain">
          <thead>
            <tr>
              <th scope="col">Read</th>
              <th scope="col" class="figure">Noticed 8 times in 10</th>
              <th scope="col" class="figure">Worth knowing</th>
              <th scope="col" class="figure">Boards for that</th>
              <th scope="col" class="figure">Spread between panels (SD)</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="each in outlook.others" :key="each.response">
              <td>{{ each.name }}</td>
              <td class="figure">{{ difference(each, each.told_apart) }}</td>
              <td class="figure">{{ each.worth == null ? 'not said' : difference(each, each.worth) }}</td>
              <td class="figure">{{ each.worth == null ? '' : (each.n_boards ?? 'over 60') }}</td>
              <td class="figure">
                {{ each.sd.toPrecision(2) }}
                <small class="quiet"
                  >{{ each.n_trials }} {{ each.n_trials === 1 ? 'trial' : 'trials' }}</small
                >
              </td>
            </tr>
          </tbody>
        </table>
      </details>
      <div v-if="outlook.stages.length > 1" class="wide words">
        <table class="plain">
          <caption>
            What each look must show
          </caption>
          <thead>
            <tr>
              <th scope="col">Look</th>
              <th scope="col" class="figure">Boards read</th>
              <th scope="col" class="figure">Told apart below p</th>
              <th scope="col" class="figure">Error spent by then</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(stage, index) in outlook.stages" :key="index">
              <td>{{ index + 1 }}</td>
              <td class="figure">{{ stage.n_boards }}</td>
              <td class="figure">{{ stage.alpha.toPrecision(2) }}</td>
              <td class="figure">{{ (100 * stage.spent).toPrecision(2) }} %</td>
            </tr>
          </tbody>
        </table>
        <p class="quiet">
          All looks together are wrong in at most 5 of 100 trials. The figures above are for one look when all
          is read. <span class="term">(Lan–DeMets spending in O’Brien and Fleming’s form)</span>
        </p>
      </div>
    </template>
    <p v-else-if="outlook" class="words">{{ said(outlook.troubles[0]?.says ?? []) }}</p>
    <p v-else class="words quiet">Working out what it would show…</p>
    <OutlookCost v-if="outlook && !trouble" class="wide" :outlook="outlook" />
  </section>
</template>

<style scoped>
.answer {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 440px);
  border-left: 4px solid var(--accent);
}
.answer > figure {
  padding: 14px 16px;
}
.words {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 8px;
  padding: 16px 20px;
}
.first {
  font-size: 20px;
  line-height: 1.35;
}
.wide {
  grid-column: 1 / -1;
}
details.words {
  display: block;
}
summary {
  min-height: 44px;
  line-height: 44px;
  font-weight: 600;
  cursor: pointer;
}
@media (max-width: 1100px) {
  .answer {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
