<script setup lang="ts">
import type { Schemas } from '@/api/client'
import ProductPicker from '@/kit/ProductPicker.vue'
import {
  factorOf,
  FACTOR_WORDS,
  finishesOf,
  KINDS,
  MAX_FACTORS,
  toggleLevel,
  togglePlace,
  type CrossingDraft,
  type Kind,
  type LevelDraft,
} from './crossing'
import type { BuildUpDetail } from './model'

/** The factors as rows of levels to press: what is usual, what the trial has, and what is picked from the shelf. */
const props = defineProps<{
  buildUps: readonly BuildUpDetail[]
  families: readonly Schemas['Family'][]
  preparations: readonly LevelDraft[]
}>()
const draft = defineModel<CrossingDraft>({ required: true })

const isFull = (kind: Kind): boolean =>
  !factorOf(draft.value, kind) && draft.value.factors.length >= MAX_FACTORS
const levelsOf = (kind: Kind): readonly LevelDraft[] => factorOf(draft.value, kind)?.levels ?? []
const stands = (kind: Kind, level: LevelDraft): boolean =>
  levelsOf(kind).some((each) => each.name === level.name)
const USUAL: Record<Kind, () => readonly LevelDraft[]> = {
  preparation: () => props.preparations,
  finish: () => finishesOf(props.buildUps),
  coats: () => [1, 2, 3, 4].map((coats) => ({ name: coats === 1 ? '1 coat' : `${coats} coats`, coats })),
  top: () => [{ name: 'nothing' }],
}
/** What can be pressed: what is usual, and what stands beside it. */
function offered(kind: Kind): LevelDraft[] {
  const usual = USUAL[kind]()
  return [...usual, ...levelsOf(kind).filter((level) => !usual.some((each) => each.name === level.name))]
}
function choose(
  kind: Kind,
  { product, family, name }: { product: number | null; family: string; name: string },
): void {
  const layer = { product, family }
  toggleLevel(draft.value, kind, kind === 'top' ? { name, layers: [layer] } : { name, ...layer })
}
function bareAtEach(): void {
  draft.value.bare_at = draft.value.bare_at.length ? [] : levelsOf('preparation').map((level) => level.name)
}
</script>

<template>
  <div class="factors">
    <fieldset v-for="kind in KINDS" :key="kind" class="factor" :disabled="isFull(kind)">
      <legend>{{ FACTOR_WORDS[kind] }}</legend>
      <button
        v-for="level in offered(kind)"
        :key="level.name"
        type="button"
        class="press"
        :class="{ 'press-main': stands(kind, level) }"
        :aria-pressed="stands(kind, level)"
        @click="toggleLevel(draft, kind, level)"
      >
        {{ level.name }}
      </button>
      <ProductPicker
        v-if="kind === 'finish' || kind === 'top'"
        :id="`crossing-${kind}`"
        class="picker"
        :label="`Another ${FACTOR_WORDS[kind].toLowerCase()}`"
        :product="null"
        family=""
        :families="families"
        @choose="(chosen) => choose(kind, chosen)"
      />
      <label v-if="(kind === 'coats' || kind === 'top') && factorOf(draft, kind)" class="choice">
        <input
          type="checkbox"
          :checked="factorOf(draft, kind)?.on === 'sections'"
          @change="togglePlace(draft, kind)"
        />
        on sections
      </label>
      <label v-if="kind === 'preparation' && factorOf(draft, kind)" class="choice">
        <input type="checkbox" :checked="draft.bare_at.length > 0" @change="bareAtEach" />
        a bare piece of each
      </label>
    </fieldset>
  </div>
</template>

<style scoped>
.factors {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.factor {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 8px;
  align-items: center;
  min-width: 0;
  margin: 0;
  padding: 8px 0 0;
  border: 0;
  border-top: 1px solid var(--hairline);
}
.factor legend {
  padding: 0 8px 0 0;
  font-weight: 600;
}
.picker {
  width: 240px;
}
</style>
