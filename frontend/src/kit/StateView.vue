<script setup lang="ts">
/** An empty, loading, failed or forbidden page: what it is, and one thing to do. */
defineProps<{ title: string; says?: string; kind?: 'calm' | 'trouble' | 'busy' }>()
</script>

<template>
  <section class="state sheet" :class="kind" :role="kind === 'trouble' ? 'alert' : 'status'">
    <h2>{{ title }}</h2>
    <p v-if="says" class="says">{{ says }}</p>
    <div v-if="$slots.default" class="row"><slot /></div>
  </section>
</template>

<style scoped>
.state {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 28px;
  max-width: 640px;
}
.says {
  white-space: pre-line;
}
.trouble {
  border-left: 4px solid var(--late);
}
.busy {
  color: var(--quiet);
}
</style>
