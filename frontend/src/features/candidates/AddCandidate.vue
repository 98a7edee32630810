<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, body, type Schemas } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import ProductPicker from '@/kit/ProductPicker.vue'

/** Add a candidate: a product as its label asks, a family in some coats, or a build-up of an earlier trial again. */
const props = defineProps<{
  families: readonly Schemas['Family'][]
  taken: readonly string[]
  isBusy: boolean
}>()
const emit = defineEmits<{ add: [candidate: Schemas['NewBuildUpRequest']] }>()

const blank = () => ({ product: null as number | null, family: '', name: '', coats: 2 as number | null })
const draft = ref(blank())
const suggested = ref('')
const trouble = ref('')
const again = ref<number | ''>('')
const { data: versions } = useLoaded(() => body(api.GET('/api/shelf/build-ups')))
const usable = computed(() => versions.value?.filter((one) => !props.taken.includes(one.name)) ?? [])

function choose(chosen: { product: number | null; family: string; name: string }): void {
  const isUntouched = draft.value.name === '' || draft.value.name === suggested.value
  draft.value = { ...draft.value, product: chosen.product, family: chosen.family }
  suggested.value = chosen.product === null ? '' : chosen.name
  if (isUntouched) draft.value.name = suggested.value
  trouble.value = ''
}
function add(): void {
  const { product, family, name, coats } = draft.value
  trouble.value = product !== null || family ? '' : 'Choose a product, or at least the family of the finish.'
  if (!trouble.value && !name.trim()) trouble.value = 'Give the build-up a name.'
  if (!trouble.value && product === null && coats === null) trouble.value = 'Say how many coats.'
  if (trouble.value) return
  emit('add', product === null ? { name, family, coats } : { name, product })
}
function addAgain(): void {
  if (again.value !== '') emit('add', { version: again.value })
}
function clear(): void {
  draft.value = blank()
  again.value = ''
}
defineExpose({ clear })
</script>

<template>
  <form class="sheet add" @submit.prevent="add">
    <h2>Add a candidate</h2>
    <div class="fields">
      <div class="field grow">
        <label for="candidate-product">Product, or family</label>
        <ProductPicker
          id="candidate-product"
          :product="draft.product"
          :family="draft.family"
          :families="families"
          @choose="choose"
        />
      </div>
      <div class="field grow">
        <label for="build-up-name">Name of the build-up</label>
        <el-input id="build-up-name" v-model="draft.name" maxlength="120" />
      </div>
      <div v-if="draft.product === null" class="field">
        <label for="build-up-coats">Coats</label>
        <el-input-number id="build-up-coats" v-model="draft.coats" :min="0" :max="20" />
      </div>
      <button class="press press-main" :disabled="isBusy">Add</button>
    </div>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
    <p v-if="draft.product !== null" class="quiet">
      As its label asks: coats, grits, abrasion. Build it out under Build-ups.
    </p>
    <div v-if="usable.length" class="fields">
      <div class="field grow">
        <label for="candidate-again">Or use a build-up again, in just the version of before</label>
        <el-select id="candidate-again" v-model="again" filterable placeholder="Choose a version">
          <el-option
            v-for="one in usable"
            :key="one.version"
            :value="one.version"
            :label="`${one.name}, version ${one.number}${one.is_frozen ? ', frozen' : ''}`"
          />
        </el-select>
      </div>
      <button type="button" class="press" :disabled="isBusy || again === ''" @click="addAgain">
        Use again
      </button>
    </div>
  </form>
</template>

<style scoped>
.add {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 16px;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: 16px;
}
.grow {
  flex: 2 1 240px;
}
</style>
