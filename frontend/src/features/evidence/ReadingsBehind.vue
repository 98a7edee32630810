<script setup lang="ts">
import { api, body, type Schemas } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import GradeMark from '@/kit/GradeMark.vue'
import StateView from '@/kit/StateView.vue'

/** The readings behind one point, with every correction that was made. */
const props = defineProps<{
  trialId: number
  test: string
  system: string
  look: string
  species: string
  section: string
  title: string
}>()
defineEmits<{ close: [] }>()

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
          },
        },
      }),
    ),
  [() => [props.trialId, props.test, props.system, props.look, props.species, props.section].join()],
)

/** Earlier values, in words; empty when the reading was made once. */
function earlier(entries: readonly Schemas['EntryLine'][]): string {
  if (entries.length < 2) return ''
  return entries
    .map((entry) =>
      entry.kind === 'grade' ? `graded ${entry.grade}` : entry.kind === 'note' ? 'noted' : 'took back',
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
    <table v-else-if="rows" class="plain">
      <thead>
        <tr>
          <th scope="col">Panel</th>
          <th scope="col">Board</th>
          <th scope="col">Judge</th>
          <th scope="col">Grade</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="`${row.panel}-${row.judge}`">
          <td class="mono">{{ row.panel }}</td>
          <td>{{ row.board }}</td>
          <td>{{ row.judge.split(' ')[0] }}</td>
          <td>
            <span class="value"
              ><GradeMark :grade="row.grade" :size="20" /><b class="mono">{{ row.grade }}</b></span
            >
            <small v-if="row.note" class="note">{{ row.note }}</small>
            <small v-if="earlier(row.entries)" class="quiet note">{{ earlier(row.entries) }}</small>
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
.grow {
  flex: 1;
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
</style>
