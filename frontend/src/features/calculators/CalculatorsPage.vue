<script setup lang="ts">
import { useDebounceFn, useStorage } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, body, wordsOf } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import StateView from '@/kit/StateView.vue'
import CalculatorAnswer from './CalculatorAnswer.vue'
import CalculatorInputs from './CalculatorInputs.vue'
import { defaultsOf, missingNumber, restore, type Answer, type Values } from './model'

const route = useRoute()
const { data: calculators, trouble: loadTrouble, load } = useLoaded(() => body(api.GET('/api/calculators')))
const chosen = computed(
  () => calculators.value?.find((one) => one.id === route.params.calculatorId) ?? calculators.value?.[0],
)
// What was typed is kept for the next time, calculator by calculator.
const kept = useStorage<Record<string, Values>>('nublet.calculators', {})
const values = ref<Values | null>(null)
const answer = shallowRef<Answer | null>(null)
const trouble = ref('')
const isStale = ref(false)
let run = 0

async function compute(): Promise<void> {
  const calculator = chosen.value
  if (!calculator || !values.value) return
  const mine = ++run
  trouble.value = missingNumber(calculator, values.value) ?? ''
  if (trouble.value) return
  try {
    const path = { calculator_id: calculator.id }
    const found = await body(
      api.POST('/api/calculators/{calculator_id}', { params: { path }, body: { values: values.value } }),
    )
    if (mine !== run) return
    answer.value = found
    isStale.value = false
  } catch (error) {
    if (mine === run) trouble.value = wordsOf(error)
  }
}
const computeSoon = useDebounceFn(compute, 150)

watch(
  chosen,
  (calculator) => {
    if (!calculator) return
    values.value = restore(calculator, kept.value[calculator.id])
    answer.value = null
    void compute()
  },
  { immediate: true },
)
watch(
  values,
  (now, before) => {
    if (!now || !chosen.value || now !== before) return
    kept.value = { ...kept.value, [chosen.value.id]: now }
    isStale.value = true
    void computeSoon()
  },
  { deep: true },
)

function reset(): void {
  if (!chosen.value) return
  const id = chosen.value.id
  kept.value = Object.fromEntries(Object.entries(kept.value).filter(([name]) => name !== id))
  values.value = defaultsOf(chosen.value)
  void compute()
}
</script>

<template>
  <div class="page">
    <header>
      <h1>Calculators</h1>
      <p class="quiet">The arithmetic of the bench, each with its formula and its source</p>
    </header>
    <StateView v-if="loadTrouble" kind="trouble" title="The calculators cannot be shown" :says="loadTrouble">
      <button class="press press-main" @click="load">Try again</button>
    </StateView>
    <div v-else-if="calculators && chosen" class="desk">
      <nav class="list sheet" aria-label="Calculators">
        <RouterLink
          v-for="one in calculators"
          :key="one.id"
          class="one"
          :class="{ here: one.id === chosen.id }"
          :aria-current="one.id === chosen.id ? 'page' : undefined"
          :to="`/calculators/${one.id}`"
          >{{ one.name }}</RouterLink
        >
      </nav>
      <div class="work">
        <div class="page-head">
          <h2>{{ chosen.question }}</h2>
          <button class="press" @click="reset">Begin again</button>
        </div>
        <CalculatorInputs v-if="values" :key="chosen.id" v-model="values" :calculator="chosen" />
        <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
        <CalculatorAnswer v-if="answer" :answer="answer" :is-stale="isStale || Boolean(trouble)" />
        <p class="formula">
          <span class="mono">{{ chosen.formula }}</span>
          <span class="quiet">{{ chosen.source }}</span>
        </p>
      </div>
    </div>
    <StateView v-else kind="busy" title="Sharpening the pencil…" />
  </div>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: 230px minmax(0, 1fr);
  gap: 24px;
  align-items: start;
}
.list {
  display: flex;
  flex-direction: column;
}
.one {
  display: flex;
  align-items: center;
  min-height: 44px;
  padding: 0 14px;
  color: var(--ink);
  text-decoration: none;
}
.one + .one {
  border-top: 1px solid var(--hairline);
}
.here {
  background: var(--ink);
  color: var(--paper);
  font-weight: 700;
}
.one:focus-visible {
  outline-offset: -3px;
}
.work {
  display: flex;
  flex-direction: column;
  gap: 18px;
  max-width: 780px;
}
.formula {
  display: flex;
  flex-direction: column;
  gap: 4px;
  font-size: 14px;
}
@media (max-width: 900px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
  }
  .list {
    flex-flow: row wrap;
  }
  .one + .one {
    border-top: 0;
  }
}
</style>
