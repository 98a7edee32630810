<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'
import { placeOf } from './model'

/** Taking things away as a file, and putting a file on the shelf: looked over first, kept only when told. */
const props = defineProps<{ kind: 'products' | 'species' | 'agents' | 'protocols'; noun: string }>()
const emit = defineEmits<{ written: [] }>()

type Keep = 'nothing' | 'all' | 'good'
const picker = ref<HTMLInputElement | null>(null)
const file = ref<File | null>(null)
const looked = ref<Schemas['ImportResult'] | null>(null)
const written = ref<number | null>(null)
const trouble = ref('')
const isBusy = ref(false)
const address = computed(() => `/api/shelf/${props.kind}/file` as const)

async function send(keep: Keep): Promise<void> {
  if (!file.value) return
  isBusy.value = true
  trouble.value = ''
  try {
    const found = await body(
      api.POST(address.value, {
        params: { query: { keep } },
        body: file.value as unknown as string,
        bodySerializer: (content: unknown) => content as Blob,
        headers: { 'Content-Type': 'application/octet-stream' },
      }),
    )
    looked.value = found
    written.value = keep === 'nothing' ? null : found.n_written
    if (found.n_written) emit('written')
  } catch (error) {
    looked.value = null
    trouble.value = wordsOf(error)
  } finally {
    isBusy.value = false
  }
}

/** "1 row is", "4980 rows are". */
function rowsOf(n: number, one: string, more: string): string {
  return n === 1 ? `1 row ${one}` : `${n} rows ${more}`
}

/** The same file may be chosen again once it is mended. */
function pick(): void {
  if (picker.value) picker.value.value = ''
  picker.value?.click()
}
function choose(event: Event): void {
  file.value = (event.target as HTMLInputElement).files?.[0] ?? null
  looked.value = written.value = null
  void send('nothing')
}

function close(): void {
  file.value = looked.value = written.value = null
  trouble.value = ''
  if (picker.value) picker.value.value = ''
}
</script>

<template>
  <div class="row">
    <button class="press" @click="pick">Import…</button>
    <!-- Protocols hold lists in lists, which no table does. -->
    <a v-if="kind !== 'protocols'" class="press" :href="address" download>Export CSV</a>
    <a class="press" :href="`${address}?form=json`" download>Export JSON</a>
    <input
      ref="picker"
      class="sr"
      type="file"
      :accept="kind === 'protocols' ? '.json,application/json' : '.csv,.json,text/csv,application/json'"
      :aria-label="`A file of ${noun}s`"
      tabindex="-1"
      @change="choose"
    />
  </div>
  <section v-if="file" class="sheet import" aria-live="polite">
    <h2>{{ file.name }}</h2>
    <p v-if="isBusy">Reading the file…</p>
    <template v-else-if="trouble">
      <p class="late" role="alert">{{ trouble }} Nothing was kept.</p>
    </template>
    <template v-else-if="looked">
      <p v-if="written !== null" role="status">
        {{ written }} {{ written === 1 ? noun : `${noun}s` }} put on the shelf.
        <template v-if="looked.faults.length"
          >{{ rowsOf(looked.faults.length, 'was', 'were') }} left out.</template
        >
      </p>
      <p v-else>
        {{ rowsOf(looked.n_good, 'is', 'are') }} good<template v-if="looked.faults.length"
          >,
          <strong class="caution"
            >{{ looked.faults.length }} {{ looked.faults.length === 1 ? 'is' : 'are' }} not</strong
          ></template
        >. Nothing is kept yet.
      </p>
      <div
        v-if="looked.faults.length"
        class="faults"
        tabindex="0"
        role="region"
        aria-label="Rows that are not good"
      >
        <table class="plain">
          <tbody>
            <tr v-for="(fault, index) in looked.faults" :key="index">
              <th scope="row">{{ placeOf(fault) }}</th>
              <td>{{ fault.reason }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
    <div class="row">
      <template v-if="looked && written === null && !isBusy">
        <button v-if="looked.n_good && !looked.faults.length" class="press press-main" @click="send('all')">
          Put all {{ looked.n_good }} on the shelf
        </button>
        <button v-else-if="looked.n_good" class="press press-main" @click="send('good')">
          Keep the {{ looked.n_good }} good {{ looked.n_good === 1 ? 'row' : 'rows' }}
        </button>
      </template>
      <button class="press" @click="close">{{ written === null ? 'Keep nothing' : 'Close' }}</button>
    </div>
  </section>
</template>

<style scoped>
.import {
  display: flex;
  flex-direction: column;
  gap: 12px;
  width: 100%;
  padding: 16px;
}
.faults {
  max-height: 260px;
  overflow: auto;
}
.faults th {
  width: 220px;
  color: var(--ink);
}
</style>
