<script setup lang="ts">
import StepDrawings from '@/kit/mark/StepDrawings.vue'
import { responseOf } from '@/kit/responses'

/** What each step of the scale in hand looks like, in the place of the panel; its keys go on answering. */
defineProps<{ response: string }>()
defineEmits<{ close: [] }>()
</script>

<template>
  <section class="sheet looks" aria-label="What each step looks like">
    <header class="row">
      <h2>{{ responseOf(response).name }}: what each step looks like</h2>
      <button class="press" @click="$emit('close')"><u>W</u>&nbsp;back to the panel</button>
    </header>
    <StepDrawings :response="response" />
  </section>
</template>

<style scoped>
.looks {
  padding: 16px 18px;
}
header {
  justify-content: space-between;
  margin-bottom: 10px;
}
</style>
