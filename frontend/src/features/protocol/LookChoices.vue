<script setup lang="ts">
import { computed, ref } from 'vue'
import QuantityInput from '@/kit/QuantityInput.vue'
import { lookAfter, lookChoices, looksOf, type Draft, type Look, type Test } from './model'

/** When a test is looked at: the usual moments to turn on and off, and any other. */
const props = defineProps<{ draft: Draft; test: Test; isFixed: boolean }>()
const emit = defineEmits<{ turn: [look: Look, isTaken: boolean] }>()

const later = ref<number | null>(null)
const taken = computed(() => new Set(looksOf(props.draft, props.test).map((look) => look.id)))

function addLook(): void {
  if (later.value == null || later.value < 0) return
  emit('turn', lookAfter(later.value), true)
  later.value = null
}
</script>

<template>
  <div class="looks" role="group" aria-label="When it is looked at">
    <button
      v-for="look in lookChoices(draft, test)"
      :key="look.id"
      class="press"
      :class="{ 'press-main': taken.has(look.id) }"
      :aria-pressed="taken.has(look.id)"
      :disabled="isFixed || (taken.has(look.id) && taken.size === 1)"
      @click="$emit('turn', look, !taken.has(look.id))"
    >
      {{ look.name }}
    </button>
    <form v-if="!isFixed" class="another" @submit.prevent="addLook">
      <label class="sr" for="another-look">Another look, so long after the last act</label>
      <QuantityInput id="another-look" v-model="later" quantity="minutes" placeholder="another time" />
      <button class="press">Add it</button>
    </form>
  </div>
</template>

<style scoped>
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
  width: 170px;
}
</style>
