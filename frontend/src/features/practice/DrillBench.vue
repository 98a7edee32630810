<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, body, wordsOf } from '@/api/client'
import AnswerKeys from '@/kit/answers/AnswerKeys.vue'
import LampBench from '@/kit/mark/LampBench.vue'
import { responseOf } from '@/kit/responses'
import { useScreenKeys } from '@/kit/screenKeys'
import { markWords, nextMark, type Drill } from './model'

/** A drill in hand: one mark after the other under the lamp, its truth told once it was read. */
const props = defineProps<{ drill: Drill }>()
const emit = defineEmits<{ read: [drill: Drill]; over: [] }>()

const nth = ref(0)
const trouble = ref('')
const isBusy = ref(false)
watch(
  () => props.drill.id,
  () => (nth.value = nextMark(props.drill) ?? 0),
  { immediate: true },
)
const mark = computed(() => props.drill.marks[nth.value])
const response = computed(() => responseOf(props.drill.response))
const isRead = computed(() => mark.value?.read != null)
const nRead = computed(() => props.drill.marks.filter((each) => each.read !== null).length)
const isRight = computed(() => mark.value?.read === mark.value?.drawn)
/** Under pencil strokes which pencil it was, the softest first. */
const under = computed(() =>
  props.drill.response === 'pencil' ? response.value.steps.map((step) => step.words).reverse() : undefined,
)
const ask = computed(() => ({
  response: props.drill.response,
  view: '',
  against: '',
  value: mark.value?.read ?? null,
  is_beyond: false,
  note: '',
}))

async function answer(value: number): Promise<void> {
  if (isRead.value || isBusy.value || !mark.value) return
  isBusy.value = true
  try {
    const found = await body(
      api.POST('/api/practice/drills/{drill_id}', {
        params: { path: { drill_id: props.drill.id } },
        body: { nth: mark.value.nth, value },
      }),
    )
    trouble.value = ''
    emit('read', found)
  } catch (error) {
    trouble.value = wordsOf(error)
  } finally {
    isBusy.value = false
  }
}
function goOn(): void {
  if (!isRead.value) return
  const next = nextMark(props.drill)
  if (next === null) emit('over')
  else nth.value = next
}
useScreenKeys({ Enter: goOn, ' ': goOn }, () => isRead.value)
</script>

<template>
  <section v-if="mark" class="drill" aria-label="The mark in hand">
    <div class="sheet lamp">
      <p class="quiet">
        Mark {{ nRead + (isRead ? 0 : 1) }} of {{ drill.n_marks }} · {{ response.name }} · drawn, not
        photographed
      </p>
      <LampBench
        :picture="mark.picture"
        :at="`${drill.id}/${mark.nth}`"
        :label="`Mark ${nth + 1}`"
        :under="under"
      />
    </div>
    <div class="hand" :class="{ read: isRead }">
      <h2>{{ response.name }}</h2>
      <AnswerKeys
        :ask="ask"
        :at="`${drill.id}/${mark.nth}`"
        code=""
        :is-paused="isRead"
        @answer="(value) => answer(value)"
      />
      <div v-if="isRead" class="truth" :class="{ right: isRight }" role="status">
        <p>
          <b>{{
            isRight ? 'As it was drawn.' : `It was drawn as ${markWords(drill.response, mark.drawn ?? 0)}.`
          }}</b>
          <template v-if="!isRight"> You read {{ markWords(drill.response, mark.read ?? 0) }}.</template>
        </p>
        <p class="quiet">The lamp still moves: look again.</p>
        <button class="press press-main" @click="goOn">
          {{ nextMark(drill) === null ? 'How it went' : 'Next mark' }}&nbsp;<span class="mono">↵</span>
        </button>
      </div>
      <p v-if="trouble" class="caution" role="alert">{{ trouble }}</p>
    </div>
  </section>
</template>

<style scoped>
.drill {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 320px;
  gap: 24px;
  align-items: start;
}
.lamp {
  padding: 14px 16px;
}
.hand {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.truth {
  padding: 10px 12px;
  border-left: 4px solid var(--due);
}
.truth.right {
  border-left-color: var(--accent);
}
@media (max-width: 900px) {
  .drill {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media (max-width: 640px) {
  .hand {
    padding-bottom: 120px;
  }
  /* What was drawn is told where the keys were. */
  .read :deep(.keys),
  .read :deep(.kinds) {
    display: none;
  }
  .truth {
    position: fixed;
    right: 0;
    bottom: 0;
    left: 0;
    z-index: 20;
    background: var(--paper);
    box-shadow: 0 -4px 14px rgb(0 0 0 / 18%);
  }
}
</style>
