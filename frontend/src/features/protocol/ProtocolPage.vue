<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { onBeforeRouteLeave } from 'vue-router'
import { useOpenTrial } from '@/app/openTrial'
import StateView from '@/kit/StateView.vue'
import AddTests from './AddTests.vue'
import type { Change, Draft } from './model'
import ProtocolCost from './ProtocolCost.vue'
import TestEditor from './TestEditor.vue'
import TestLine from './TestLine.vue'
import TimeRule from './TimeRule.vue'
import { useComposer } from './useComposer'

const open = useOpenTrial()
const trial = computed(() => open.summary?.trial)
const composer = useComposer(() => trial.value?.id ?? 0)
const { composed, draft, library, isChanged, trouble, loadTrouble, isBusy } = composer
const chosen = ref('')
const isAdding = ref(false)

watch(
  () => trial.value?.id,
  (id) => id && void composer.load(),
  { immediate: true },
)
const isFixed = computed(() => composed.value?.is_fixed ?? true)
const test = computed(
  () => draft.value?.tests.find((each) => each.id === chosen.value) ?? draft.value?.tests[0],
)
const about = computed(() => composed.value?.tests.find((each) => each.id === test.value?.id))
const cautions = computed(() =>
  (open.reference?.cautions ?? []).filter((each) => about.value?.cautions.includes(each.id)),
)

/** What is added or made of a test is in hand next. */
async function change(next: Draft | null, what: Partial<Change> | null): Promise<void> {
  const before = new Set(draft.value?.tests.map((each) => each.id))
  const place = draft.value?.tests.findIndex((each) => each.id === test.value?.id) ?? 0
  if (!(await composer.change(next, what))) return
  const now = draft.value?.tests ?? []
  const fresh = now.find((each) => !before.has(each.id))
  if (fresh) chosen.value = fresh.id
  else if (!now.some((each) => each.id === chosen.value))
    chosen.value = now[Math.min(place, now.length - 1)]?.id ?? ''
}
async function save(): Promise<void> {
  if ((await composer.save()) && trial.value) await open.load(trial.value.id)
}

onBeforeRouteLeave(
  () => !isChanged.value || window.confirm('What you changed here is not saved. Leave without it?'),
)
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>What is done, and when it is read</h1>
        <p v-if="draft" class="quiet">
          {{ draft.tests.length }} {{ draft.tests.length === 1 ? 'test' : 'tests' }} of this trial’s own
          protocol, from <em>{{ draft.name }}</em>{{ isFixed ? '; the trial has started, so it stands' : '' }}
        </p>
      </div>
      <div v-if="draft && !isFixed" class="row">
        <button class="press" :aria-expanded="isAdding" @click="isAdding = !isAdding">Add a test</button>
        <button v-if="isChanged" class="press" :disabled="isBusy" @click="composer.leave">
          Leave changes
        </button>
        <button class="press press-main" :disabled="isBusy || !isChanged" @click="save">
          {{ isChanged ? 'Save the protocol' : 'Saved' }}
        </button>
      </div>
    </header>
    <StateView v-if="loadTrouble" kind="trouble" title="The protocol cannot be shown" :says="loadTrouble">
      <button class="press press-main" @click="composer.load">Try again</button>
    </StateView>
    <StateView v-else-if="!composed || !draft" kind="busy" title="Laying the tests on the rule…" />
    <template v-else>
      <p v-if="trouble" class="sheet refused" role="alert" :data-field="composer.troubledField.value">
        {{ trouble }}
      </p>
      <div class="split">
        <div class="left">
          <AddTests
            v-if="isAdding && library"
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
            <template v-for="(each, index) in draft.tests" :key="each.id">
              <TestLine
                v-if="composed.tests[index]"
                :draft="draft"
                :test="each"
                :about="composed.tests[index]"
                :is-chosen="each.id === test?.id"
                @choose="chosen = each.id"
              />
            </template>
            <p class="legend quiet">
              <i class="contact" /> contact <i class="hot" /> hot <i class="waits" /> waits
              <i class="look" /> a look <i class="look two" /> a look from two views
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
          />
        </div>
        <ProtocolCost
          :composed="composed"
          :library="library"
          :species="trial?.species[0] ?? 'beech'"
          @add="(what) => change(null, what)"
        />
      </div>
    </template>
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
.refused {
  margin: 0;
  padding: 10px 16px;
  border-left: 4px solid var(--late);
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
