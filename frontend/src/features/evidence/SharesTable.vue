<script setup lang="ts">
import { percentText } from '@/kit/scale'
import type { Schemas } from '@/api/client'

/** Kinds, which are counted: how often each was seen on each build-up in each test. */
const props = defineProps<{ found: Schemas['Evidence']; names: ReadonlyMap<string, string> }>()

type Row = Schemas['TestShares']['systems'][number]
const SHADES = 5
const lookOf = (test: string) => props.found.looks.find((each) => each.test === test)?.name ?? ''
/** Steps that were read at all, so that many kinds do not make an empty table. */
const stepsOf = (rows: readonly Row[]) =>
  (rows[0]?.steps ?? [])
    .map((step) => step.words)
    .filter((_, n) => rows.some((row) => (row.steps[n]?.share ?? 0) > 0))
const shareOf = (row: Row, words: string) => row.steps.find((step) => step.words === words)?.share ?? 0
const shade = (share: number) =>
  share > 0 ? `var(--grade-${1 + SHADES - Math.max(1, Math.ceil(share * SHADES))})` : 'none'
</script>

<template>
  <section v-for="test in found.shares" :key="test.test" class="sheet part">
    <h2>
      {{ names.get(test.test) ?? test.test }}
      <small v-if="lookOf(test.test)" class="quiet">{{ lookOf(test.test) }}</small>
    </h2>
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Build-up</th>
            <th scope="col" class="figure">Pieces</th>
            <th v-for="words in stepsOf(test.systems)" :key="words" scope="col" class="figure">
              {{ words }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in test.systems" :key="row.system" :class="{ quiet: row.system === found.control }">
            <th scope="row">{{ row.system }}</th>
            <td class="figure">{{ row.n_pieces }}</td>
            <td v-for="words in stepsOf(test.systems)" :key="words" class="figure">
              <span class="swatch" :style="{ background: shade(shareOf(row, words)) }" aria-hidden="true" />
              {{
                shareOf(row, words) === 0
                  ? '–'
                  : shareOf(row, words) === 1
                    ? 'all'
                    : percentText(shareOf(row, words))
              }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="!stepsOf(test.systems).length" class="quiet">None of them was seen on any piece.</p>
  </section>
  <p class="quiet">
    Counted, not compared: several kinds can be seen at once, and none is better than another.
  </p>
</template>

<style scoped>
h2 small {
  font-weight: 400;
}
.plain th[scope='row'] {
  min-width: 150px;
  color: var(--ink);
  text-align: left;
}
.swatch {
  display: inline-block;
  width: 12px;
  height: 12px;
  margin-right: 6px;
  border: 1px solid var(--hairline);
  vertical-align: -1px;
}
</style>
