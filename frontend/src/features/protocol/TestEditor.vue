<script setup lang="ts">
import { computed } from 'vue'
import { words } from '@/api/declared.json'
import type { Schemas } from '@/api/client'
import ChoiceBar from '@/kit/ChoiceBar.vue'
import { quantityOf } from '@/kit/units'
import LookChoices from './LookChoices.vue'
import {
  actsText,
  severityText,
  withAfterFail,
  withAmount,
  withLook,
  withNames,
  withRead,
  type Change,
  type Composed,
  type Draft,
  type Test,
} from './model'
import ReadRows from './ReadRows.vue'
import SeverityFields from './SeverityFields.vue'

/** One test in hand: how severe it is, the steps around it, when and what is read. */
const props = defineProps<{
  draft: Draft
  test: Test
  about: Composed['tests'][number]
  cautions: readonly Schemas['Caution'][]
  isFixed: boolean
}>()
const emit = defineEmits<{
  change: [draft: Draft | null, what: Partial<Change> | null]
  choose: [test: string]
}>()

const ladder = computed(() => (props.draft.ladders ?? []).find((each) => each.id === props.about.ladder))
const celsius = (value: number) => quantityOf('celsius', value)
/** The ladder's steps from the mildest on, each by what makes it harder. */
const steps = computed(() =>
  (ladder.value?.tests ?? []).flatMap((id) =>
    props.draft.tests
      .filter((each) => each.id === id)
      .map((each) => ({ id, name: severityText(each, celsius) || each.short_name })),
  ),
)
const own = (what: Partial<Change>) => emit('change', null, { test: props.test.id, ...what })
</script>

<template>
  <section class="sheet editor" :aria-label="`In hand: ${test.name}`">
    <header>
      <h2>{{ test.name }}</h2>
      <span v-if="!isFixed" class="row">
        <button class="press" @click="own({ what: 'copy' })">Copy</button>
        <button class="press" @click="own({ what: 'remove' })">Take it out</button>
      </span>
    </header>
    <p class="quiet">
      {{ test.says }}
      <span v-if="(test.acts ?? []).length > 1">What is done: {{ actsText(test) }}.</span>
      <span v-if="test.modelled_on"> Modelled on {{ test.modelled_on }}.</span>
    </p>
    <p v-for="each in cautions" :key="each.id" class="caution">{{ each.says }} {{ each.do }}</p>

    <SeverityFields
      :test="test"
      :is-fixed="isFixed"
      @severity="(change) => own({ what: 'severity', ...change })"
      @amount="(words) => $emit('change', withAmount(draft, test.id, words), null)"
      @names="(full, short) => $emit('change', withNames(draft, test.id, full, short), null)"
    />

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
      <span>{{ ladder.name }}</span>
      <ChoiceBar
        label="Steps of the ladder"
        :options="steps"
        :chosen="test.id"
        @choose="(id) => $emit('choose', id)"
      />
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
    <LookChoices
      :draft="draft"
      :test="test"
      :is-fixed="isFixed"
      @turn="(look, isTaken) => $emit('change', withLook(draft, test.id, look, isTaken), null)"
    />
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
.steps {
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-start;
  gap: 6px;
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
