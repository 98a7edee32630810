<script setup lang="ts">
import { ref, watch } from 'vue'
import ReadingField from '@/kit/ReadingField.vue'

/** One panel on the balance: read or typed, kept at once. */
const props = defineProps<{ code: string; saved: number | null; hasBalance: boolean }>()
const emit = defineEmits<{ weigh: [grams: number] }>()

const value = ref<Record<string, number | null>>({ weight_g: props.saved })
let kept = props.saved
watch(
  () => props.saved,
  (saved) => {
    if (saved === kept) return
    kept = saved
    value.value = { weight_g: saved }
  },
)

function keep(): void {
  const grams = value.value.weight_g ?? null
  if (grams === null || grams === kept) return
  kept = grams
  emit('weigh', grams)
}
</script>

<template>
  <ReadingField
    :id="`weigh-${code}`"
    v-model="value"
    instrument="balance"
    :fields="[{ name: 'weight_g', label: `Weight of ${code}`, quantity: 'grams', from: 'g' }]"
    :is-there="hasBalance"
    class="weigh"
    @read="keep"
    @typed="keep"
  />
</template>

<style scoped>
.weigh {
  gap: 6px 8px;
}
.weigh :deep(.quantity) {
  width: 96px;
}
.weigh :deep(.press) {
  padding: 0 10px;
}
.weigh :deep(label) {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}
</style>
