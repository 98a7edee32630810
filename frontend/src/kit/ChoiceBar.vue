<script setup lang="ts">
/** A row of choices of which one stands: looks, woods. */
defineProps<{ label: string; options: readonly { id: string; name: string }[]; chosen: string }>()
defineEmits<{ choose: [id: string] }>()
</script>

<template>
  <div class="bar" role="group" :aria-label="label">
    <button
      v-for="option in options"
      :key="option.id"
      class="press"
      :class="{ 'press-main': option.id === chosen }"
      :aria-pressed="option.id === chosen"
      @click="$emit('choose', option.id)"
    >
      {{ option.name }}
    </button>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
}
/* Borders lie over each other, so that a second row has its own on the left. */
.press + .press {
  margin-left: -1px;
}
</style>
