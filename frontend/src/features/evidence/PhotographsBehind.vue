<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, body } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import BeforeAfter from '@/kit/BeforeAfter.vue'
import { inOrder, photographAddress, photographWords } from '@/kit/photographs'

/** What was photographed of the panels behind a point, panel by panel, before and after. */
const props = defineProps<{ trialId: number; test: string; title: string; panels: readonly string[] }>()

const { data } = useLoaded(
  () =>
    body(api.GET('/api/judging/{trial_id}/photographs', { params: { path: { trial_id: props.trialId } } })),
  [() => props.trialId],
)
const byPanel = computed(() =>
  props.panels.flatMap((panel) => {
    const own = (data.value ?? []).filter((each) => each.panel === panel && each.exposure === props.test)
    return own.length ? [{ panel, own: inOrder(own) }] : []
  }),
)
const open = ref('')
const opened = computed(() => byPanel.value.find((each) => each.panel === open.value))
</script>

<template>
  <section v-if="byPanel.length" class="photos" aria-label="Photographs behind the point">
    <h3>Photographs</h3>
    <ul>
      <li v-for="each in byPanel" :key="each.panel">
        <button class="thumb" @click="open = each.panel">
          <img
            :src="photographAddress(each.own.at(-1)?.id ?? 0, 'thumb')"
            :alt="photographWords(each.own[each.own.length - 1]!, title)"
          />
          <span class="mono">{{ each.panel }}</span>
          <small class="quiet">{{ each.own.length }}</small>
        </button>
      </li>
    </ul>
    <BeforeAfter v-if="opened" :photographs="opened.own" :test-name="title" @close="open = ''" />
  </section>
</template>

<style scoped>
.photos {
  margin-top: 14px;
}
ul {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
}
.thumb {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 6px;
  padding: 0 0 4px;
  border: 1px solid var(--hairline);
  background: none;
  color: var(--ink);
  text-align: left;
  cursor: pointer;
}
.thumb img {
  grid-column: 1 / -1;
  width: 112px;
  height: 84px;
  object-fit: cover;
}
.thumb span,
.thumb small {
  padding: 0 6px;
}
</style>
