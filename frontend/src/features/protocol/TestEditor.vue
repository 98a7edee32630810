<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { words } from '@/api/declared.json'
import type { Schemas } from '@/api/client'
import QuantityInput from '@/kit/QuantityInput.vue'
import {
  actsText,
  lookAfter,
  lookChoices,
  looksOf,
  mainAct,
  withAfterFail,
  withAmount,
  withLook,
  withRead,
  type Change,
  type Composed,
  type Draft,
  type Test,
} from './model'
import ReadRows from './ReadRows.vue'

/** One test in hand: how severe it is, the steps around it, when and what is read. */
const props = defineProps<{
  draft: Draft
  test: Test
  about: Composed['tests'][number]
  cautions: readonly Schemas['Caution'][]
  isFixed: boolean
}>()
const emit = defineEmits<{ change: [draft: Draft | null, what: Partial<Change> | null] }>()

const act = computed(() => mainAct(props.test))
const lasts = ref<number | null>(null)
const degrees = ref<number | null>(null)
const times = ref<number | null>(null)
const amount = ref('')
const later = ref<number | null>(null)
watch(
  act,
  (now) => {
    lasts.value = now?.lasts_min ?? null
    degrees.value = now?.temperature_c ?? null
    times.value = now?.cycles || now?.strokes || null
    amount.value = now?.amount ?? ''
  },
  { immediate: true },
)
const isTimed = computed(() => (act.value?.lasts_min ?? 0) > 0)
const isCounted = computed(() => Boolean(act.value?.cycles || act.value?.strokes))
const taken = computed(() => new Set(looksOf(props.draft, props.test).map((look) => look.id)))
const ladder = computed(() => (props.draft.ladders ?? []).find((each) => each.id === props.about.ladder))
const own = (what: Partial<Change>) => emit('change', null, { test: props.test.id, ...what })

function severity(): void {
  const now = act.value
  if (!now) return
  const change: Partial<Change> = { what: 'severity' }
  if (isTimed.value && lasts.value != null && lasts.value !== now.lasts_min) change.lasts_min = lasts.value
  if (now.temperature_c != null && degrees.value != null && degrees.value !== now.temperature_c)
    change.temperature_c = degrees.value
  if (isCounted.value && times.value && times.value !== (now.cycles || now.strokes))
    change.times = times.value
  if (Object.keys(change).length > 1) own(change)
}
function keepAmount(): void {
  if (amount.value !== (act.value?.amount ?? ''))
    emit('change', withAmount(props.draft, props.test.id, amount.value), null)
}
function addLook(): void {
  if (later.value == null || later.value < 0) return
  emit('change', withLook(props.draft, props.test.id, lookAfter(later.value), true), null)
  later.value = null
}
</script>

<template>
  <section class="sheet editor" :aria-label="`In hand: ${test.name}`">
    <header>
      <h2>{{ test.name }}</h2>
      <button v-if="!isFixed" class="press" @click="own({ what: 'remove' })">Take it out</button>
    </header>
    <p class="quiet">
      {{ test.says }} <span>{{ actsText(test) }}.</span>
      <span v-if="test.modelled_on"> Modelled on {{ test.modelled_on }}.</span>
    </p>
    <p v-for="each in cautions" :key="each.id" class="caution">{{ each.says }} {{ each.do }}</p>

    <form class="fields" @submit.prevent="severity">
      <div v-if="isTimed" class="field">
        <label for="test-lasts">How long</label>
        <QuantityInput
          id="test-lasts"
          v-model="lasts"
          quantity="minutes"
          :disabled="isFixed"
          @change="severity"
        />
      </div>
      <div v-if="act?.temperature_c != null" class="field">
        <label for="test-degrees">How hot</label>
        <QuantityInput
          id="test-degrees"
          v-model="degrees"
          quantity="celsius"
          :disabled="isFixed"
          @change="severity"
        />
      </div>
      <div v-if="isCounted" class="field">
        <label for="test-times">How often</label>
        <QuantityInput
          id="test-times"
          v-model="times"
          quantity="count"
          :disabled="isFixed"
          @change="severity"
        />
      </div>
      <div v-if="act?.agent" class="field wide">
        <label for="test-amount">How much {{ act.agent }}</label>
        <el-input
          id="test-amount"
          v-model="amount"
          maxlength="400"
          :disabled="isFixed"
          @change="keepAmount"
        />
      </div>
    </form>

    <div v-if="!isFixed" class="row steps">
      <button class="press" :disabled="!about.can_be_milder" @click="own({ what: 'milder' })">
        + the next milder
      </button>
      <button class="press" :disabled="!about.can_be_harder" @click="own({ what: 'harder' })">
        + the next harder
      </button>
      <button
        v-if="!ladder"
        class="press"
        :disabled="!about.can_be_ladder"
        @click="own({ what: 'ladder', steps: 4 })"
      >
        As a ladder
      </button>
    </div>
    <div v-if="ladder" class="ladder">
      <span>Step {{ ladder.tests.indexOf(test.id) + 1 }} of the ladder {{ ladder.name }}.</span>
      <label for="after-fail">After a fail</label>
      <select
        id="after-fail"
        :value="ladder.after_fail ?? 'go-on'"
        :disabled="isFixed"
        @change="
          $emit('change', withAfterFail(draft, ladder.id, ($event.target as HTMLSelectElement).value), null)
        "
      >
        <option v-for="(says, id) in words.after_fail" :key="id" :value="id">{{ says }}</option>
      </select>
    </div>

    <h3>Looks</h3>
    <div class="looks" role="group" aria-label="When it is looked at">
      <button
        v-for="look in lookChoices(draft, test)"
        :key="look.id"
        class="press"
        :class="{ 'press-main': taken.has(look.id) }"
        :aria-pressed="taken.has(look.id)"
        :disabled="isFixed || (taken.has(look.id) && taken.size === 1)"
        @click="$emit('change', withLook(draft, test.id, look, !taken.has(look.id)), null)"
      >
        {{ look.name }}
      </button>
      <form v-if="!isFixed" class="another" @submit.prevent="addLook">
        <label class="sr" for="another-look">Another look, so long after the last act</label>
        <QuantityInput id="another-look" v-model="later" quantity="minutes" placeholder="another time" />
        <button class="press">Add it</button>
      </form>
    </div>
    <h3>Reads</h3>
    <ReadRows
      :test="test"
      :is-fixed="isFixed"
      @change="(response, read) => $emit('change', withRead(draft, test.id, response, read), null)"
    />
  </section>
</template>

<style scoped>
.editor {
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 14px 16px;
}
header {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 12px;
}
h3 {
  margin: 6px 0 0;
  font-size: 14px;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 10px;
}
.wide {
  grid-column: span 2;
}
.steps,
.looks {
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-start;
  gap: 6px;
}
.another {
  display: flex;
  gap: 6px;
}
.another :deep(.quantity) {
  width: 150px;
}
.ladder {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 14px;
  padding: 8px 12px;
  border-left: 4px solid var(--accent);
}
.ladder select {
  min-height: 40px;
  max-width: 100%;
  border: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink);
}
</style>
