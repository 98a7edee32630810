<script setup lang="ts">
import { computed } from 'vue'
import type { BuildUpDetail } from './model'

/** The bare panels of a trial, how each is prepared, and a further one that is prepared like a build-up. */
const props = defineProps<{
  buildUps: readonly BuildUpDetail[]
  chosen?: BuildUpDetail
  isStarted: boolean
  isBusy: boolean
}>()
defineEmits<{ add: [like: BuildUpDetail]; remove: [row: BuildUpDetail] }>()
const controls = computed(() => props.buildUps.filter((row) => row.is_control))
</script>

<template>
  <section class="sheet bare" aria-labelledby="bare-title">
    <h2 id="bare-title">Bare panels</h2>
    <p class="quiet">
      Untreated: they should fail, which shows that the tests bite. One that is prepared like a build-up tells
      what the preparation alone does.
    </p>
    <ul>
      <li v-for="row in controls" :key="row.id" class="row">
        <strong>{{ row.name }}</strong>
        <span class="grow">{{
          row.prepared.length ? row.prepared.join(', ') : 'as it comes, not sanded'
        }}</span>
        <button
          v-if="row.is_further && !isStarted"
          type="button"
          class="press"
          :disabled="isBusy"
          :aria-label="`Remove ${row.name}`"
          @click="$emit('remove', row)"
        >
          Remove
        </button>
      </li>
    </ul>
    <button
      v-if="chosen && !isStarted"
      type="button"
      class="press"
      :disabled="isBusy"
      @click="$emit('add', chosen)"
    >
      Add a bare one prepared like {{ chosen.name }}
    </button>
  </section>
</template>

<style scoped>
.bare {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 10px;
  padding: 16px;
}
ul {
  width: 100%;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  flex-wrap: wrap;
  gap: 4px 16px;
  min-height: 44px;
  border-top: 1px solid var(--hairline);
}
.grow {
  flex: 1 1 200px;
}
</style>
