<script setup lang="ts">
import { ref } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'

/** The containers that stand on the shelf, and the last day on which each is good. */
const props = defineProps<{ productId: number; batches: readonly Schemas['Batch'][] }>()
const emit = defineEmits<{ changed: [detail: Schemas['ProductDetail']] }>()

const blank = () => ({ id: null as number | null, number: '', opened_on: '', best_before: '', note: '' })
const draft = ref(blank())
const trouble = ref('')

async function keep(batch: typeof draft.value, isUsedUp: boolean): Promise<void> {
  trouble.value = ''
  const fields = {
    number: batch.number,
    opened_on: batch.opened_on || null,
    best_before: batch.best_before || null,
    note: batch.note,
    is_used_up: isUsedUp,
  }
  const path = { item_id: props.productId }
  try {
    const detail = await body(
      batch.id === null
        ? api.POST('/api/shelf/products/{item_id}/batches', { params: { path }, body: fields })
        : api.PUT('/api/shelf/products/{item_id}/batches/{batch_id}', {
            params: { path: { ...path, batch_id: batch.id } },
            body: fields,
          }),
    )
    draft.value = blank()
    emit('changed', detail)
  } catch (error) {
    trouble.value = wordsOf(error)
  }
}

function edited(batch: Schemas['Batch']): typeof draft.value {
  return { ...batch, opened_on: batch.opened_on ?? '', best_before: batch.best_before ?? '' }
}
</script>

<template>
  <section class="sheet part">
    <h2>Batches</h2>
    <table v-if="batches.length" class="plain">
      <thead>
        <tr>
          <th scope="col">Number</th>
          <th scope="col">Opened</th>
          <th scope="col">Good until</th>
          <td></td>
        </tr>
      </thead>
      <tbody>
        <tr v-for="batch in batches" :key="batch.id" :class="{ quiet: batch.is_used_up }">
          <th scope="row" class="mono">{{ batch.number }}</th>
          <td class="mono">{{ batch.opened_on ?? 'unopened' }}</td>
          <td class="mono">
            <span v-if="batch.is_used_up">used up</span>
            <strong v-else-if="batch.is_past" class="late">{{ batch.use_by }}, past</strong>
            <span v-else>{{ batch.use_by ?? 'not known' }}</span>
          </td>
          <td>
            <span class="row">
              <button
                type="button"
                class="press"
                :aria-label="`Change batch ${batch.number}`"
                @click="draft = edited(batch)"
              >
                Change
              </button>
              <button
                type="button"
                class="press"
                :aria-label="`${batch.is_used_up ? 'Put back' : 'Used up'}: batch ${batch.number}`"
                @click="keep(edited(batch), !batch.is_used_up)"
              >
                {{ batch.is_used_up ? 'Put back' : 'Used up' }}
              </button>
            </span>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else class="quiet">No batch is written down yet.</p>
    <form class="row" @submit.prevent="keep(draft, false)">
      <div class="field number">
        <label for="batch-number">{{ draft.id === null ? 'New batch, number' : 'Number' }}</label>
        <el-input id="batch-number" v-model="draft.number" maxlength="60" />
      </div>
      <div class="field">
        <label for="batch-opened">Opened on</label>
        <input id="batch-opened" v-model="draft.opened_on" class="date" type="date" />
      </div>
      <div class="field">
        <label for="batch-best">Printed date</label>
        <input id="batch-best" v-model="draft.best_before" class="date" type="date" />
      </div>
      <button class="press">{{ draft.id === null ? 'Write down' : 'Save batch' }}</button>
      <button v-if="draft.id !== null" type="button" class="press" @click="draft = blank()">Leave</button>
    </form>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
  </section>
</template>

<style scoped>
.part {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 16px;
}
form.row {
  align-items: flex-end;
}
.number {
  flex: 1 1 120px;
}
.date {
  min-height: 44px;
  padding: 0 8px;
  border: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink);
  font: inherit;
}
</style>
