<script setup lang="ts">
import IntervalBar from '@/kit/IntervalBar.vue'
import { percentText } from '@/kit/scale'
import { keyWords } from '@/kit/responses'
import { gateWords, type Ranking } from './model'

/** The build-ups in order: score with its interval, how often the best, and each gate. The tie group is one block. */
defineProps<{ ranking: Ranking; names: ReadonlyMap<string, string> }>()
</script>

<template>
  <div class="scroll">
    <table class="plain rows">
      <thead>
        <tr>
          <th scope="col" class="tie"><span class="sr">Tie group</span></th>
          <th scope="col">Build-up</th>
          <th scope="col" class="score-head">Score of 100, 95 % interval</th>
          <th scope="col" class="figure">Best in</th>
          <th scope="col" class="figure">Passes all</th>
          <th v-for="gate in ranking.profile.gates" :key="gate.test" scope="col" class="gate">
            {{ keyWords(gate.test, names) }}<br /><span class="mono">≥ {{ gate.threshold }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in ranking.systems" :key="row.system" :class="{ behind: !row.in_tie_group }">
          <td class="tie" :class="{ on: row.in_tie_group }">
            <span class="sr">{{ row.in_tie_group ? 'not told apart from the leader' : 'behind' }}</span>
          </td>
          <th scope="row" class="system">{{ row.system }}</th>
          <td>
            <div class="score">
              <IntervalBar
                :from="0"
                :to="100"
                :mean="row.score"
                :low="row.score_low"
                :high="row.score_high"
              />
              <span class="mono"
                ><b>{{ row.score.toFixed(0) }}</b>
                <small>{{ row.score_low.toFixed(0) }}–{{ row.score_high.toFixed(0) }}</small></span
              >
            </div>
          </td>
          <td class="figure">{{ percentText(row.p_best) }}</td>
          <td class="figure">{{ percentText(row.p_passes) }}</td>
          <td v-for="gate in row.gates" :key="gate.test" class="gate" :class="gateWords(gate.probability)">
            <b>{{ gateWords(gate.probability) }}</b>
            <small v-if="gate.probability != null" class="mono">{{ percentText(gate.probability) }}</small>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="quiet foot">
      The upright bar joins the build-ups that the leader does not beat in 9 of 10 draws: treat them as equal.
    </p>
  </div>
</template>

<style scoped>
.rows th {
  vertical-align: bottom;
  font-size: 13px;
}
.rows .system {
  min-width: 130px;
  color: var(--ink);
  font-size: 15px;
  vertical-align: middle;
}
.behind .system,
.behind td {
  color: var(--quiet);
  font-weight: 400;
}
td.tie,
th.tie {
  width: 14px;
  padding: 0 10px 0 0;
}
td.tie.on {
  background: linear-gradient(90deg, var(--ink) 4px, transparent 4px);
  border-bottom-color: transparent;
}
.score-head {
  min-width: 170px;
}
.score {
  display: grid;
  grid-template-columns: minmax(80px, 1fr) 76px;
  align-items: center;
  gap: 10px;
}
.score small {
  display: block;
  font-size: 12px;
}
.rows th.figure {
  font-family: inherit;
}
.score b {
  font-size: 17px;
}
.rows .figure {
  white-space: nowrap;
}
.rows .gate {
  min-width: 58px;
  padding-left: 8px;
  padding-right: 4px;
  font-size: 13px;
}
.gate small {
  white-space: nowrap;
}
.gate b,
.gate small {
  display: block;
}
.gate.fails b {
  color: var(--late);
}
.gate.open b {
  color: var(--caution);
}
@media (max-width: 900px) {
  .score {
    grid-template-columns: minmax(0, 1fr);
    gap: 2px;
  }
  .score-head {
    min-width: 84px;
  }
  .rows .system {
    min-width: 100px;
    font-size: 14px;
  }
  .rows .figure,
  .rows .gate {
    min-width: 0;
    padding-left: 4px;
    padding-right: 2px;
    font-size: 12px;
  }
}
.foot {
  margin-top: 10px;
}
</style>
