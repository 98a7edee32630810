<script setup lang="ts">
import { ref } from 'vue'

/** A reason in a person's own words, without which something is not done; Escape leaves it. */
defineProps<{ id: string; asks: string; example: string; does: string }>()
const emit = defineEmits<{ give: [reason: string]; leave: [] }>()
const reason = ref('')

function give(): void {
  if (reason.value.trim()) emit('give', reason.value.trim())
}
/** What is asked for is ready to be typed. */
const vFocus = { mounted: (element: HTMLElement) => element.focus() }
</script>

<template>
  <form class="reason" @submit.prevent="give">
    <label :for="id">{{ asks }}</label>
    <input
      :id="id"
      v-model="reason"
      v-focus
      class="box"
      maxlength="2000"
      :placeholder="example"
      @keydown.esc="emit('leave')"
    />
    <button class="press press-main" :disabled="!reason.trim()">{{ does }}</button>
  </form>
</template>

<style scoped>
.reason {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 12px;
}
.box {
  flex: 1;
  min-width: 200px;
}
</style>
