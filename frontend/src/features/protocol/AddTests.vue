<script setup lang="ts">
import { computed, ref } from 'vue'
import { words } from '@/api/declared.json'
import { findTests, type Change, type Draft, type Library } from './model'

/** The library: tests one by one, or a whole protocol at once. */
const props = defineProps<{ library: Library; draft: Draft }>()
const emit = defineEmits<{ add: [what: Partial<Change>]; close: [] }>()

const MOST = 60
const search = ref('')
const group = ref('')
const found = computed(() => findTests(props.library, props.draft, search.value, group.value))
const GROUPS = words.test_group as Record<string, string>
const SITES = words.site as Record<string, string>

function addProtocol(event: Event): void {
  const box = event.target as HTMLSelectElement
  if (box.value) emit('add', { what: 'add_protocol', protocol: box.value })
  box.value = ''
}
</script>

<template>
  <section class="sheet add" aria-labelledby="add-title">
    <header class="row">
      <h2 id="add-title">Add a test</h2>
      <button class="press" @click="$emit('close')">Close</button>
    </header>
    <div class="row find">
      <label class="sr" for="find-test">Find a test</label>
      <el-input id="find-test" v-model="search" clearable placeholder="wine, iron, scratch, sheen …" />
      <label class="sr" for="test-group">Of which group</label>
      <select id="test-group" v-model="group">
        <option value="">All groups</option>
        <option v-for="(says, id) in GROUPS" :key="id" :value="id">{{ says }}</option>
      </select>
      <label class="sr" for="whole-protocol">Add a whole protocol</label>
      <select id="whole-protocol" @change="addProtocol">
        <option value="">Or a whole protocol…</option>
        <option v-for="each in library.protocols" :key="each.id" :value="each.id">
          {{ each.name }} ({{ each.tests.length }})
        </option>
      </select>
    </div>
    <ul>
      <li v-for="test in found.slice(0, MOST)" :key="test.id">
        <span class="what">
          <b>{{ test.name }}</b>
          <small class="quiet"
            >{{ GROUPS[test.group] }} · {{ SITES[test.site]?.split(':')[0]?.toLowerCase() }} ·
            {{ test.says }}</small
          >
        </span>
        <button
          class="press"
          :aria-label="`Add ${test.name}`"
          @click="$emit('add', { what: 'add_test', test: test.id })"
        >
          Add
        </button>
      </li>
    </ul>
    <p v-if="!found.length" class="quiet" role="status">No test of that kind is left in the library.</p>
    <p v-else-if="found.length > MOST" class="quiet">
      {{ found.length - MOST }} more: look for a word to find them.
    </p>
  </section>
</template>

<style scoped>
.add {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 14px 16px;
}
.find > :deep(.el-input) {
  flex: 1 1 180px;
}
select {
  min-height: 44px;
  max-width: 100%;
  padding: 0 8px;
  border: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink);
}
ul {
  max-height: 380px;
  margin: 0;
  padding: 0;
  overflow-y: auto;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  gap: 12px;
  padding: 4px 0;
  border-top: 1px solid var(--hairline);
}
.what {
  display: flex;
  flex-direction: column;
}
</style>
