<script setup lang="ts">
const TABS = [
  { to: '/shelf/products', name: 'Products' },
  { to: '/shelf/woods', name: 'Woods' },
  { to: '/shelf/agents', name: 'Agents' },
  { to: '/shelf/protocols', name: 'Protocols' },
  { to: '/shelf/families', name: 'Families' },
] as const
</script>

<template>
  <nav class="tabs" aria-label="The shelf">
    <RouterLink v-for="tab in TABS" :key="tab.to" class="press" active-class="press-main" :to="tab.to">{{
      tab.name
    }}</RouterLink>
  </nav>
</template>

<style scoped>
.tabs {
  display: flex;
}
.press + .press {
  border-left: 0;
}
</style>
