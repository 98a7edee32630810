<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import GradeMark from '@/kit/GradeMark.vue'
import { responseOf, valueWords, viewWords } from '@/kit/responses'
import StateView from '@/kit/StateView.vue'
import PhotographsBehind from './PhotographsBehind.vue'

/** The readings behind one point, with every correction that was made. */
const props = defineProps<{
  trialId: number
  test: string
  system: string
  look: string
  species: string
  section: string
  response: string
  title: string
}>()
const emit = defineEmits<{ close: []; changed: [] }>()

const {
  data: rows,
  trouble,
  load,
} = useLoaded(
  () =>
    body(
      api.GET('/api/trials/{trial_id}/evidence/readings', {
        params: {
          path: { trial_id: props.trialId },
          query: {
            test: props.test,
            system: props.system,
            look: props.look,
            species: props.species,
            section: props.section,
            response: props.response,
          },
        },
      }),
    ),
  [
    () =>
      [
        props.trialId,
        props.test,
        props.system,
        props.look,
        props.species,
        props.section,
        props.response,
      ].join(),
  ],
)

/** What is being left out, and why: a panel's whole result, or one reading of it. */
const leaving = ref<{ panel: string; reading: Schemas['ReadingBehind'] | null; reason: string } | null>(null)
const refused = ref('')
const decide = (what: 'leave_out' | 'count', panel: string, reason = '') =>
  send(() =>
    body(
      api.POST('/api/trials/{trial_id}/days/spots', {
        params: { path: { trial_id: props.trialId } },
        body: { what, panel, exposure: props.test, reason },
      }),
    ),
  )
const decideOne = (reading: Schemas['ReadingBehind'], because: string) =>
  send(() =>
    body(
      api.PATCH('/api/trials/{trial_id}/evidence/readings/{reading_id}', {
        params: { path: { trial_id: props.trialId, reading_id: reading.id } },
        body: { because },
      }),
    ),
  )
function leave(): Promise<void> {
  const what = leaving.value
  if (!what) return Promise.resolve()
  return what.reading ? decideOne(what.reading, what.reason) : decide('leave_out', what.panel, what.reason)
}
async function send(request: () => Promise<unknown>): Promise<void> {
  try {
    await request()
  } catch (error) {
    refused.value = wordsOf(error)
    return
  }
  refused.value = ''
  leaving.value = null
  await load()
  emit('changed')
}
const first = (name: string) => name.split(' ')[0] ?? name
const isFirstOf = (index: number) => rows.value?.[index - 1]?.panel !== rows.value?.[index]?.panel

const codes = computed(() => [...new Set((rows.value ?? []).map((row) => row.panel))])

/** From where, at which look and which part, as far as that is not said already. */
function about(row: Schemas['ReadingBehind']): string {
  return [
    row.response !== props.response ? responseOf(row.response ?? '').name : '',
    row.look !== props.look ? row.look : '',
    row.view ? viewWords(row.view).toLowerCase() : '',
    row.against ? `against ${row.against}` : '',
    row.turn ? 'came round again: tells of the judge, and does not count' : '',
  ]
    .filter(Boolean)
    .join(' · ')
}

/** Earlier values, in words; empty when the reading was made once. */
function earlier(entries: readonly Schemas['EntryLine'][], response: string): string {
  if (entries.length < 2) return ''
  return entries
    .map((entry) =>
      entry.kind === 'grade' && entry.value != null
        ? `read ${valueWords(response, entry.value, entry.is_beyond)}`
        : entry.kind === 'note'
          ? 'noted'
          : 'took back',
    )
    .join(', then ')
}
</script>

<template>
  <aside class="sheet behind" aria-label="Readings behind the point">
    <header class="row">
      <div class="grow">
        <h2>{{ system }}</h2>
        <p class="quiet">{{ title }}: the readings behind it</p>
      </div>
      <button class="press" @click="$emit('close')">Close</button>
    </header>
    <StateView v-if="trouble" kind="trouble" title="The readings cannot be shown" :says="trouble">
      <button class="press press-main" @click="load">Try again</button>
    </StateView>
    <form v-if="leaving" class="leaving" @submit.prevent="leave">
      <label for="leaving-reason"
        >Why does {{ leaving.reading ? `${first(leaving.reading.judge)}’s one reading` : title }} on
        {{ leaving.panel }} not count? Both results will be shown, and your reason with them.</label
      >
      <input id="leaving-reason" v-model="leaving.reason" class="box" maxlength="2000" />
      <div class="row">
        <button class="press press-main" :disabled="!leaving.reason.trim()">Leave it out</button>
        <button type="button" class="press" @click="leaving = null">Let it count</button>
      </div>
    </form>
    <p v-if="refused" class="trouble" role="alert">{{ refused }}</p>
    <PhotographsBehind v-if="rows" :trial-id="trialId" :test="test" :title="title" :panels="codes" />
    <table v-if="rows" class="plain">
      <thead>
        <tr>
          <th scope="col">Panel</th>
          <th scope="col">Board</th>
          <th scope="col">By</th>
          <th scope="col">{{ responseOf(response).name }}</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="(row, index) in rows"
          :key="`${row.panel}-${row.judge}-${row.look}-${row.response}-${row.view}-${row.against}-${row.turn}`"
          :class="{ out: row.left_out || row.left_out_because }"
        >
          <td class="mono">
            {{ row.panel }}
            <template v-if="isFirstOf(index)">
              <button
                v-if="row.may_count_again"
                class="link"
                :aria-label="`Let ${row.panel} count again`"
                @click="decide('count', row.panel)"
              >
                count again
              </button>
              <button
                v-else-if="!row.left_out"
                class="link"
                :aria-label="`Leave ${row.panel} out`"
                @click="leaving = { panel: row.panel, reading: null, reason: '' }"
              >
                leave out…
              </button>
            </template>
          </td>
          <td>{{ row.board }}</td>
          <td>
            {{ first(row.judge) }}
            <button
              v-if="row.left_out_because"
              class="link"
              :aria-label="`Let the reading of ${row.judge} on ${row.panel} count again`"
              @click="decideOne(row, '')"
            >
              count again
            </button>
            <button
              v-else-if="!row.left_out"
              class="link"
              :aria-label="`Leave the one reading of ${row.judge} on ${row.panel} out`"
              @click="leaving = { panel: row.panel, reading: row, reason: '' }"
            >
              not this one…
            </button>
          </td>
          <td>
            <span class="value"
              ><GradeMark v-if="row.response === 'grade'" :grade="row.value" :size="20" /><b class="mono">{{
                valueWords(row.response ?? '', row.value, row.is_beyond)
              }}</b></span
            >
            <small v-if="about(row)" class="quiet note">{{ about(row) }}</small>
            <small v-if="row.left_out && isFirstOf(index)" class="caution note"
              >does not count: {{ row.left_out }}</small
            >
            <small v-if="row.left_out_because" class="caution note"
              >does not count: {{ row.left_out_because }}</small
            >
            <template v-if="isFirstOf(index)">
              <small v-for="says in row.deviations" :key="says" class="caution note">{{ says }}</small>
            </template>
            <small v-if="row.is_after_unblinding" class="caution note">after the judges were told</small>
            <small v-if="row.note" class="note">{{ row.note }}</small>
            <small v-if="earlier(row.entries, row.response ?? '')" class="quiet note">{{
              earlier(row.entries, row.response ?? '')
            }}</small>
          </td>
        </tr>
      </tbody>
    </table>
  </aside>
</template>

<style scoped>
.behind {
  max-height: 620px;
  padding: 14px 16px;
  overflow: auto;
}
.plain td,
.plain th {
  padding: 4px 8px 4px 0;
  font-size: 14px;
}
.value {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
.note {
  display: block;
}
.out td {
  color: var(--quiet);
}
.link {
  min-height: 28px;
  padding: 0;
  border: 0;
  background: none;
  color: var(--accent);
  font: inherit;
  font-size: 12px;
  text-decoration: underline;
  cursor: pointer;
}
.leaving {
  display: grid;
  gap: 8px;
  margin: 8px 0;
}
</style>
