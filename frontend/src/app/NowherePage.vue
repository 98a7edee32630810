<script setup lang="ts">
import StateView from '@/kit/StateView.vue'
</script>

<template>
  <div class="page">
    <StateView title="There is no such page" says="The address may be mistyped, or the page has moved.">
      <RouterLink class="press press-main" to="/">Go to Today</RouterLink>
    </StateView>
  </div>
</template>
