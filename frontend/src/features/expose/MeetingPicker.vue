<script setup lang="ts">
import { computed } from 'vue'
import { meetingWords, type Expose, type Meeting } from './model'

/** All sittings of the trial in the order of the plan: which is in hand, which are over. */
const props = defineProps<{ view: Expose }>()
const emit = defineEmits<{ choose: [id: string] }>()

const tests = computed(() => new Map(props.view.tests.map((test) => [test.id, test])))
function stateOf(each: Meeting): string {
  const n = each.panels.length
  if (each.n_over === n) return 'over'
  if (each.n_begun) return `${each.n_begun} of ${n} begun`
  if (!each.planned_at) return 'not planned'
  return new Date(each.planned_at).toLocaleString('en-GB', {
    timeZone: props.view.time_zone,
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: 'numeric',
    minute: '2-digit',
  })
}
</script>

<template>
  <label class="picker">
    <span>Sitting</span>
    <el-select
      :model-value="view.meeting"
      filterable
      aria-label="Sitting"
      @update:model-value="(id: string) => emit('choose', id)"
    >
      <el-option
        v-for="each in view.meetings"
        :key="each.id"
        :value="each.id"
        :label="`${meetingWords(each, tests.get(each.test))} · ${stateOf(each)}`"
      />
    </el-select>
  </label>
</template>

<style scoped>
.picker {
  display: flex;
  flex: 1;
  align-items: center;
  gap: 10px;
  min-width: 260px;
}
.picker :deep(.el-select) {
  flex: 1;
}
</style>
