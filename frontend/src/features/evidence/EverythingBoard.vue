<script setup lang="ts">
import { computed } from 'vue'
import { api, body } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import SaveButtons from '@/kit/SaveButtons.vue'
import { csvText } from '@/kit/save'
import StateView from '@/kit/StateView.vue'
import { axisOf } from './axis'
import EvidenceMark from './EvidenceMark.vue'
import { told } from './told'
import { evidenceRows, groupedRows, keyOf, titleOf } from './model'

/** Everything that was read at once: build-ups against each test of each scale and measure. */
const props = defineProps<{
  trialId: number
  look: string
  species: string
  section: string
  grouping: string
  names: ReadonlyMap<string, string>
}>()
defineEmits<{ open: [response: string, test: string] }>()

const {
  data: found,
  trouble,
  load,
} = useLoaded(
  () =>
    body(
      api.GET('/api/trials/{trial_id}/evidence/board', {
        params: {
          path: { trial_id: props.trialId },
          query: { look: props.look, species: props.species, section: props.section },
        },
      }),
    ),
  [() => [props.trialId, props.look, props.species, props.section].join()],
)
const columns = computed(() =>
  (found.value?.responses ?? []).flatMap((response) =>
    response.tests.map((test, at) => ({
      response,
      test,
      isFirst: at === 0,
      title: titleOf(props.names, test),
      axis: axisOf(response.id, [test]),
    })),
  ),
)
const rows = computed(() => {
  if (!found.value) return []
  const own = evidenceRows(
    columns.value.map((column) => column.test),
    '',
    found.value.control,
    found.value.benchmarks,
  )
  return groupedRows(
    own,
    found.value.factors.find((each) => each.factor === props.grouping),
  )
})
const counted = computed(() => (found.value?.responses ?? []).filter((each) => each.shares.length))
const csv = () =>
  csvText(
    ['read', 'test', 'build-up', 'result', 'mean', 'low', 'high', 'letters', 'panels'],
    columns.value.flatMap(({ response, test, title }) =>
      test.systems.map((row) => {
        const drawn = told(response.id, test, row)
        return [
          response.name,
          title,
          row.system,
          drawn.text,
          row.mean,
          drawn.low,
          drawn.high,
          row.letters,
          row.n_panels,
        ]
      }),
    ),
  )
</script>

<template>
  <StateView v-if="trouble" kind="trouble" title="The board cannot be shown" :says="trouble">
    <button class="press press-main" @click="load">Try again</button>
  </StateView>
  <StateView v-else-if="!found" kind="busy" title="Weighing everything that was read…" />
  <section v-else class="sheet part">
    <header class="row">
      <p class="grow">
        Everything that was read. Two that share a letter in a column are not told apart there; a column’s
        head opens it.
        <b v-if="found.is_simulated" class="caution">Simulated.</b>
      </p>
      <SaveButtons name="everything" :csv="csv" />
    </header>
    <p v-if="found.waits" class="caution">{{ found.waits }}</p>
    <div class="scroll" tabindex="0" role="region" aria-label="Build-ups against everything that was read">
      <table class="board">
        <thead>
          <tr>
            <td class="corner"></td>
            <th
              v-for="response in found.responses.filter((each) => each.tests.length)"
              :key="response.id"
              scope="colgroup"
              class="over"
              :colspan="response.tests.length"
            >
              {{ response.name }}
            </th>
          </tr>
          <tr>
            <th scope="col" class="corner">Build-up</th>
            <th
              v-for="column in columns"
              :key="`${column.response.id}|${keyOf(column.test)}`"
              scope="col"
              :class="{ first: column.isFirst }"
            >
              <button class="head" @click="$emit('open', column.response.id, keyOf(column.test))">
                {{ column.title }}
              </button>
            </th>
          </tr>
        </thead>
        <tbody>
          <template v-for="row in rows" :key="row.system">
            <tr v-if="row.heading">
              <th scope="rowgroup" class="level" :colspan="columns.length + 1">{{ row.heading }}</th>
            </tr>
            <tr>
              <th scope="row" class="corner" :class="{ quiet: row.isControl }">{{ row.system }}</th>
              <td
                v-for="(column, at) in columns"
                :key="`${column.response.id}|${keyOf(column.test)}`"
                :class="{ first: column.isFirst }"
              >
                <template v-if="row.cells[at]">
                  <EvidenceMark
                    :response="column.response.id"
                    :test="column.test"
                    :row="row.cells[at]!"
                    :axis="column.axis"
                  />
                  <small class="letters"><span class="sr">letters </span>{{ row.cells[at]!.letters }}</small>
                </template>
                <span v-else class="quiet">–</span>
              </td>
            </tr>
          </template>
        </tbody>
      </table>
    </div>
    <p v-if="counted.length" class="quiet">
      Counted, and not compared:
      <template v-for="(each, n) in counted" :key="each.id"
        >{{ n ? ', ' : ''
        }}<button class="link" @click="$emit('open', each.id, '')">{{ each.name }}</button></template
      >.
    </p>
  </section>
</template>

<style scoped>
.part {
  min-width: 0;
  padding: 16px;
}
.board {
  border-collapse: collapse;
}
.board tr {
  border-bottom: 1px solid var(--hairline);
}
.board td,
.board th {
  min-width: 104px;
  padding: 6px 8px;
  text-align: left;
  vertical-align: top;
}
.board .corner {
  position: sticky;
  left: 0;
  z-index: 1;
  min-width: 150px;
  max-width: 220px;
  background: var(--paper);
}
.over,
.first {
  border-left: 2px solid var(--hairline);
}
.over {
  font-size: 13px;
}
.level {
  font-size: 13px;
  color: var(--quiet);
}
.letters {
  color: var(--quiet);
}
.head,
.link {
  min-height: 32px;
  padding: 0;
  border: 0;
  background: none;
  color: var(--accent);
  font: inherit;
  font-weight: 600;
  text-align: left;
  text-decoration: underline;
  cursor: pointer;
}
@media (max-width: 600px) {
  .board .corner {
    min-width: 110px;
    max-width: 120px;
  }
}
</style>
