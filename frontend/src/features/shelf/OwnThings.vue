<script setup lang="ts" generic="Thing extends OwnThing">
import StateView from '@/kit/StateView.vue'
import ShelfFile from './ShelfFile.vue'
import ShelfTabs from './ShelfTabs.vue'
import type { OwnThing, OwnThings } from './useOwnThings'

/** A page of woods or agents: what ships can be copied, what is the shop's own changed and archived. */
const props = defineProps<{
  says: string
  noun: string
  kind: 'species' | 'agents' | 'protocols'
  things: OwnThings<Thing>
  nameOf: (thing: Thing) => string
}>()
const emit = defineEmits<{ begin: [thing: Thing | null, isCopy: boolean]; archive: [thing: Thing] }>()
// Refs that the page owns; searching from here is what they are for.
const { search, isArchived } = props.things
defineSlots<{ form(): unknown; thing(slot: { thing: Thing }): unknown }>()
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>Shelf</h1>
        <p class="quiet">{{ says }}</p>
      </div>
      <ShelfTabs />
    </header>
    <div class="row">
      <label class="sr" :for="`${noun}-search`">Find among the {{ noun }}s</label>
      <el-input
        :id="`${noun}-search`"
        v-model="search"
        class="find"
        clearable
        :placeholder="`Find among the ${noun}s`"
      />
      <label class="choice"><input v-model="isArchived" type="checkbox" /> Archived</label>
      <button class="press press-main" @click="emit('begin', null, false)">New {{ noun }}</button>
      <ShelfFile :kind="kind" :noun="noun" @written="things.load" />
    </div>
    <slot name="form" />
    <p v-if="things.trouble.value" class="late" role="alert">{{ things.trouble.value }}</p>
    <StateView
      v-if="things.loadTrouble.value"
      kind="trouble"
      :title="`The ${noun}s cannot be listed`"
      :says="things.loadTrouble.value"
    >
      <button class="press press-main" @click="things.load">Try again</button>
    </StateView>
    <StateView v-else-if="!things.data.value" kind="busy" :title="`Looking along the ${noun}s…`" />
    <p v-else-if="!things.shown.value.length" class="quiet" role="status">
      No {{ noun }} of that kind{{ isArchived ? ' in the archive' : '' }}.
    </p>
    <ul v-else class="sheet list">
      <li v-for="thing in things.shown.value" :key="thing.id" class="thing">
        <slot name="thing" :thing="thing" />
        <span class="row acts">
          <template v-if="thing.item_id !== null">
            <button
              class="press"
              :aria-label="`Change ${nameOf(thing)}`"
              @click="emit('begin', thing, false)"
            >
              Change
            </button>
            <button
              class="press"
              :aria-label="`${thing.is_archived ? 'Put back' : 'Archive'} ${nameOf(thing)}`"
              :disabled="things.isBusy.value"
              @click="emit('archive', thing)"
            >
              {{ thing.is_archived ? 'Put back' : 'Archive' }}
            </button>
          </template>
          <button
            class="press"
            :aria-label="`Copy ${nameOf(thing)} to change it`"
            @click="emit('begin', thing, true)"
          >
            Copy
          </button>
        </span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.find {
  flex: 1 1 200px;
  max-width: 300px;
}
.list {
  margin: 0;
  padding: 0;
  list-style: none;
}
.thing {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 270px;
  align-items: center;
  gap: 16px;
  padding: 6px 16px;
}
.thing + .thing {
  border-top: 1px solid var(--hairline);
}
.acts {
  justify-content: flex-end;
  gap: 8px;
}
@media (max-width: 900px) {
  .thing {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .acts {
    flex-direction: column;
    align-items: stretch;
  }
}
</style>
