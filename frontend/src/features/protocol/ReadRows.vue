<script setup lang="ts">
import { computed } from 'vue'
import { responses, words } from '@/api/declared.json'
import { responseOf } from '@/kit/responses'
import type { Read, Test } from './model'

/** What a test reads: by whom, from which views; scales and measures to add. */
const props = defineProps<{ test: Test; isFixed: boolean }>()
const emit = defineEmits<{ change: [response: string, read: Read | null] }>()

const VIEWS = Object.entries(words.view) as [NonNullable<Read['views']>[number], string][]
const readable = computed(() =>
  Object.entries(responses)
    .filter(([id, each]) => !['derived', 'known'].includes(each.form) && !isRead(id) && !isPart(id))
    .map(([id, each]) => ({ id, name: each.name })),
)
const isRead = (id: string) => props.test.reads.some((read) => read.response === id)
/** What is entered with others at once is asked for as a group. */
const isPart = (id: string) =>
  Object.values(responses).some((each) => (each.parts as readonly string[]).includes(id))

function turn(read: Read, view: NonNullable<Read['views']>[number]): void {
  const views = read.views ?? []
  const next = views.includes(view) ? views.filter((each) => each !== view) : [...views, view]
  emit('change', read.response, { ...read, views: VIEWS.map(([id]) => id).filter((id) => next.includes(id)) })
}
function add(id: string): void {
  const isMeasured = responseOf(id).form === 'measure' || responseOf(id).form === 'group'
  emit('change', id, { response: id, by: isMeasured ? 'hands' : 'judges' })
}
</script>

<template>
  <ul class="reads">
    <li v-for="read in test.reads" :key="read.response">
      <b>{{ responseOf(read.response).name }}</b>
      <select
        :value="read.by ?? 'judges'"
        :aria-label="`Who reads ${responseOf(read.response).name}`"
        :disabled="isFixed"
        @change="
          $emit('change', read.response, {
            ...read,
            by: ($event.target as HTMLSelectElement).value as 'judges' | 'hands',
          })
        "
      >
        <option v-for="(says, id) in words.by" :key="id" :value="id">{{ says }}</option>
      </select>
      <span class="views">
        <label v-for="[id, says] in VIEWS" :key="id" class="choice">
          <input
            type="checkbox"
            :checked="read.views?.includes(id) ?? false"
            :disabled="isFixed"
            @change="turn(read, id)"
          />
          {{ says }}
        </label>
      </span>
      <button
        v-if="!isFixed && test.reads.length > 1"
        class="press small"
        :aria-label="`Do not read ${responseOf(read.response).name}`"
        @click="$emit('change', read.response, null)"
      >
        Leave out
      </button>
    </li>
    <li v-if="!isFixed">
      <label class="sr" for="add-read">Read something more</label>
      <select id="add-read" value="" @change="(event) => add((event.target as HTMLSelectElement).value)">
        <option value="" disabled>Read something more…</option>
        <option v-for="each in readable" :key="each.id" :value="each.id">{{ each.name }}</option>
      </select>
    </li>
  </ul>
</template>

<style scoped>
.reads {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 14px;
  padding: 4px 0;
  border-bottom: 1px solid var(--hairline);
  font-size: 14px;
}
li b {
  min-width: 130px;
}
select {
  min-height: 40px;
  padding: 0 8px;
  border: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink);
}
.views :deep(.choice),
.views .choice {
  min-height: 32px;
}
.views {
  display: flex;
  flex: 1 1 240px;
  flex-wrap: wrap;
  gap: 0 12px;
}
.small {
  min-height: 36px;
}
</style>
