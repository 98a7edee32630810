<script setup lang="ts">
import { computed } from 'vue'
import { kappaWords } from '@/kit/agreement'
import { viewWords } from '@/kit/responses'
import SaveButtons from '@/kit/SaveButtons.vue'
import { csvText } from '@/kit/save'
import { signedText } from '@/kit/scale'
import type { Schemas } from '@/api/client'

/** How far those who read agree with each other, and each with himself. */
const props = defineProps<{ found: Schemas['JudgesResult'] }>()

const WEAK = 0.67
const first = (name: string) => name.split(' ')[0] ?? name
const alpha = computed(() => props.found.alpha_ordinal)
const csv = () =>
  csvText(
    ['what', 'judge', 'other', 'value', 'n'],
    [
      ['alpha', '', '', alpha.value, ''],
      ['icc(2,1)', '', '', props.found.icc_2_1, props.found.n_by_all],
      ...props.found.pairs.map((pair) => ['kappa', pair.a, pair.b, pair.kappa_quadratic, pair.n]),
      ...props.found.leniency.map((each) => ['leniency', each.judge, '', each.mean_difference, each.n]),
      ...props.found.repeatability.map((each) => ['repeat sd', each.judge, '', each.sd, each.n]),
    ],
  )
</script>

<template>
  <section class="sheet part">
    <header class="row head">
      <h2 class="grow">The judges</h2>
      <SaveButtons name="judges" :csv="csv" />
    </header>
    <p v-if="alpha != null" :class="{ caution: alpha < WEAK }">
      <b>{{
        alpha < WEAK ? 'They agree too little' : alpha < 0.8 ? 'They agree fairly well' : 'They agree well'
      }}</b>
      <template v-if="alpha < WEAK">: the scoring, not the finish, is the weak point</template>.
      <small class="quiet"
        >(Krippendorff’s alpha {{ alpha.toFixed(2)
        }}<template v-if="found.icc_2_1 != null"
          >, ICC {{ found.icc_2_1.toFixed(2) }} over {{ found.n_by_all }} places</template
        >)</small
      >
    </p>
    <ul class="list">
      <li v-for="pair in found.pairs" :key="`${pair.a}|${pair.b}`">
        {{ first(pair.a) }} and {{ first(pair.b) }} agree {{ kappaWords(pair.kappa_quadratic) }}
        <small class="quiet"
          >(kappa {{ pair.kappa_quadratic == null ? '–' : pair.kappa_quadratic.toFixed(2) }},
          {{ pair.n }})</small
        >
      </li>
      <li v-for="each in found.leniency" :key="`l-${each.judge}`">
        {{ first(each.judge) }} reads {{ signedText(each.mean_difference) }} against the others
      </li>
      <li v-for="each in found.repeatability" :key="`r-${each.judge}`">
        {{ first(each.judge) }} read {{ Math.round(100 * each.same_share) }} % alike of {{ each.n }} that came
        round again
        <small class="quiet">(SD {{ each.sd.toFixed(2) }} of one reading)</small>
      </li>
      <li v-for="each in found.views" :key="`v-${each.view}-${each.other}`">
        {{ viewWords(each.view) }} against {{ viewWords(each.other).toLowerCase() }}:
        {{ signedText(-each.mean_difference) }} on average, different on
        {{ Math.round(100 * each.differ_share) }} % of {{ each.n }}
      </li>
    </ul>
  </section>
</template>

<style scoped>
.head {
  align-items: start;
}
.list {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(280px, 1fr));
  gap: 4px 20px;
  margin: 8px 0 0;
  padding: 0;
  list-style: none;
}
</style>
