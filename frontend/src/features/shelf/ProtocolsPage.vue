<script setup lang="ts">
import { useRouter } from 'vue-router'
import { api, body, type Schemas } from '@/api/client'
import { words } from '@/api/declared.json'
import OwnThings from './OwnThings.vue'
import { useOwnThings } from './useOwnThings'

type Protocol = Schemas['ShelfProtocol']

/** Protocols: what ships and what the shop has made, each to look at, to copy and, where it is its own, to change. */
const router = useRouter()
const GROUPS = words.test_group as Record<string, string>
const FIRST = 'table-basics'
const things = useOwnThings({
  list: () => body(api.GET('/api/shelf/protocols')),
  wordsOf: (row: Protocol) =>
    `${row.protocol.name} ${row.protocol.says} ${row.protocol.tests.map((test) => test.name).join(' ')}`,
})

function begin(row: Protocol | null, isCopy: boolean): void {
  const path = `/shelf/protocols/${row?.id ?? FIRST}`
  void router.push(isCopy || row === null ? { path, query: { copy: '' } } : path)
}
function archive(row: Protocol): Promise<boolean> {
  return things.attempt(() =>
    api.POST('/api/shelf/protocols/{item_id}/archive', {
      params: { path: { item_id: row.item_id ?? 0 } },
      body: { is_archived: !row.is_archived },
    }),
  )
}
/** "3 water, 5 household stains". */
function groupsOf(row: Protocol): string {
  const counts = new Map<string, number>()
  for (const test of row.protocol.tests) {
    const group = test.group ?? 'stain'
    counts.set(group, (counts.get(group) ?? 0) + 1)
  }
  return [...counts].map(([id, n]) => `${n} ${(GROUPS[id] ?? id).toLowerCase()}`).join(', ')
}
function looksOf(row: Protocol): string {
  const looks = [...(row.protocol.looks ?? []), ...row.protocol.tests.flatMap((test) => test.looks ?? [])]
  return [...new Map(looks.map((look) => [look.id, look.name])).values()].slice(0, 6).join(', ').toLowerCase()
}
</script>

<template>
  <OwnThings
    says="Protocols: which tests, where they stand, what is done and when it is read"
    noun="protocol"
    kind="protocols"
    :things="things"
    :name-of="(row) => row.protocol.name"
    @begin="begin"
    @archive="archive"
  >
    <template #thing="{ thing }">
      <span class="protocol">
        <span class="name">
          <RouterLink :to="`/shelf/protocols/${thing.id}`"
            ><strong>{{ thing.protocol.name }}</strong></RouterLink
          >
          <span class="quiet">{{ thing.protocol.says }}</span>
        </span>
        <span class="quiet">
          {{ thing.protocol.tests.length }} {{ thing.protocol.tests.length === 1 ? 'test' : 'tests' }}:
          {{ groupsOf(thing) }}<br />Looks: {{ looksOf(thing) }}
        </span>
        <span class="quiet">{{
          thing.item_id === null ? 'ships' : `ours, version ${thing.protocol.version}`
        }}</span>
      </span>
    </template>
  </OwnThings>
</template>

<style scoped>
.protocol {
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr) 110px;
  align-items: center;
  gap: 16px;
}
.name {
  display: flex;
  flex-direction: column;
}
@media (max-width: 900px) {
  .protocol {
    grid-template-columns: minmax(0, 1fr);
    gap: 4px;
  }
}
</style>
