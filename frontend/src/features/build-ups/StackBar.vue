<script setup lang="ts">
import { ref } from 'vue'
import ProductPicker from '@/kit/ProductPicker.vue'
import { FINAL_WORDS, type RecipeDraft } from './model'

/** The head of the stack: add a layer on top, what is done last of all, which faces are coated. */
const emit = defineEmits<{ add: [] }>()
const draft = defineModel<RecipeDraft>({ required: true })
const addButton = ref<HTMLButtonElement | null>(null)
defineExpose({ focusAdd: () => addButton.value?.focus() })
</script>

<template>
  <div class="bar">
    <button ref="addButton" type="button" class="press" @click="emit('add')">Add a layer on top</button>
    <label for="final">Last of all</label>
    <el-select id="final" v-model="draft.final" class="final">
      <el-option v-for="(words, id) in FINAL_WORDS" :key="id" :value="id" :label="words" />
    </el-select>
    <ProductPicker
      v-if="draft.final === 'waxed'"
      id="final-product"
      class="wax"
      label="The wax"
      only="wax"
      placeholder="A wax of your shelf"
      :product="draft.final_product"
      @choose="draft.final_product = $event.product"
    />
    <label class="choice"
      ><input v-model="draft.faces" type="checkbox" true-value="both" false-value="one" /> Both faces
      coated</label
    >
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
  padding: 10px 12px;
}
.final {
  width: 140px;
}
.wax {
  width: 220px;
}
</style>
