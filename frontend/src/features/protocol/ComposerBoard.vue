<script setup lang="ts">
import { computed, ref } from 'vue'
import { useOpenTrial } from '@/app/openTrial'
import AddTests from './AddTests.vue'
import { rowsOf, type Change, type Draft, type Row } from './model'
import ProtocolCost from './ProtocolCost.vue'
import TestEditor from './TestEditor.vue'
import TestLine from './TestLine.vue'
import TimeRule from './TimeRule.vue'
import type { Composer } from './useComposer'

/** The board on which a protocol is put together: its tests on the rule of time, the one in hand, and what it all asks for. */
const props = defineProps<{ composer: Composer; species: string }>()
const isAdding = defineModel<boolean>('isAdding', { required: true })

// Refs of the page's composer; working on them from here is what they are for.
const { composed, draft, library } = props.composer
const open = useOpenTrial()
const chosen = ref('')
const isFixed = computed(() => composed.value?.is_fixed ?? true)
const test = computed(
  () => draft.value?.tests.find((each) => each.id === chosen.value) ?? draft.value?.tests[0],
)
const about = computed(() => composed.value?.tests.find((each) => each.id === test.value?.id))
const rows = computed(() => (composed.value ? rowsOf(composed.value) : []))
const cautions = computed(() =>
  (open.reference?.cautions ?? []).filter((each) => about.value?.cautions.includes(each.id)),
)

/** A line in hand: a ladder by its mildest step, unless one of it is in hand already. */
function take(row: Row): void {
  if (!row.steps.some((step) => step.test.id === test.value?.id)) chosen.value = row.steps[0].test.id
}

/** What is added or made of a test is in hand next. */
async function change(next: Draft | null, what: Partial<Change> | null): Promise<void> {
  const before = new Set(draft.value?.tests.map((each) => each.id))
  const place = draft.value?.tests.findIndex((each) => each.id === test.value?.id) ?? 0
  if (!(await props.composer.change(next, what))) return
  const now = draft.value?.tests ?? []
  const fresh = now.find((each) => !before.has(each.id))
  if (fresh) chosen.value = fresh.id
  else if (!now.some((each) => each.id === chosen.value))
    chosen.value = now[Math.min(place, now.length - 1)]?.id ?? ''
}
</script>

<template>
  <div v-if="composed && draft" class="split">
    <div class="left">
      <AddTests
        v-if="isAdding && library && !isFixed"
        :library="library"
        :draft="draft"
        @add="(what) => change(null, what)"
        @close="isAdding = false"
      />
      <section class="sheet rule" aria-label="Tests on the rule of time">
        <div class="head quiet">
          <span>Test, site, severity</span>
          <TimeRule />
          <span class="takes">takes</span>
        </div>
        <TestLine
          v-for="row in rows"
          :key="row.ladder?.id ?? row.steps[0].test.id"
          :draft="draft"
          :row="row"
          :chosen="test?.id ?? ''"
          @choose="take(row)"
        />
        <p class="legend quiet">
          <i class="contact" /> contact <i class="hot" /> hot <i class="waits" /> waits <i class="look" /> a
          look <i class="look two" /> a look from two views
        </p>
      </section>
      <TestEditor
        v-if="test && about"
        :draft="draft"
        :test="test"
        :about="about"
        :cautions="cautions"
        :is-fixed="isFixed"
        @change="change"
        @choose="(id) => (chosen = id)"
      />
    </div>
    <ProtocolCost
      :composed="composed"
      :library="library"
      :species="species"
      :chosen="test?.id ?? ''"
      @choose="(id) => (chosen = id)"
      @add="(what) => change(null, what)"
    />
  </div>
</template>

<style scoped>
.split {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: 18px;
  align-items: start;
}
.left {
  display: flex;
  flex-direction: column;
  gap: 14px;
  min-width: 0;
}
.head {
  display: grid;
  grid-template-columns: minmax(150px, 4fr) minmax(0, 9fr) 64px;
  align-items: center;
  gap: 14px;
  padding: 8px 14px 0;
  font-size: 13px;
}
.takes {
  text-align: right;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 8px;
  margin: 0;
  padding: 8px 14px;
  font-size: 13px;
}
.legend i {
  display: inline-block;
  width: 18px;
  height: 9px;
  margin-left: 10px;
}
.contact {
  background: var(--accent);
}
.hot {
  background: var(--heat, #b4472b);
}
.waits {
  background: var(--line);
  opacity: 0.7;
}
.legend .look {
  width: 13px;
  height: 13px;
  border: 2px solid var(--ink);
  border-radius: 50%;
  background: var(--paper);
}
.legend .two {
  background: linear-gradient(var(--ink) 50%, var(--paper) 50%);
}
@media (max-width: 1100px) {
  .split {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media (max-width: 640px) {
  .head {
    grid-template-columns: minmax(0, 1fr);
  }
  .head > span {
    display: none;
  }
}
</style>
