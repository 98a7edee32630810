<script setup lang="ts">
import { onMounted, useTemplateRef } from 'vue'

/** A note on the spot that it was begun on. */
defineProps<{ panel: string; exposure: string }>()
defineEmits<{ keep: []; leave: [] }>()
const words = defineModel<string>({ required: true })
const box = useTemplateRef<{ focus: () => void }>('box')
onMounted(() => box.value?.focus())
</script>

<template>
  <form class="field" @submit.prevent="$emit('keep')" @keydown.esc="$emit('leave')">
    <label for="note">Note on panel {{ panel }}, {{ exposure }}</label>
    <el-input
      id="note"
      ref="box"
      v-model="words"
      maxlength="4000"
      placeholder="Faint ring, gone when tilted"
    />
    <div class="row">
      <button class="press press-main">Keep note</button>
      <button type="button" class="press" @click="$emit('leave')">Leave it</button>
    </div>
  </form>
</template>
