<script lang="ts">
import { reactive } from 'vue'

/** Names and families of products that were seen, so that one that is chosen can be named without asking again. */
const seen = reactive(new Map<number, { name: string; family: string }>())
export function rememberProduct(id: number, name: string, family: string): void {
  seen.set(id, { name, family })
}
export function productName(id: number): string {
  return seen.get(id)?.name ?? `Product ${id}`
}
</script>

<script setup lang="ts">
import { computed, ref, useTemplateRef } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'

/** Choose a product of the shelf by typing, or a family alone. */
const props = withDefaults(
  defineProps<{
    id: string
    label?: string
    product: number | null
    family?: string
    families?: readonly Schemas['Family'][]
    /** Only products of this family are offered. */
    only?: string
    placeholder?: string
  }>(),
  { label: undefined, family: '', families: () => [], only: '', placeholder: 'Type a product or a family' },
)
const emit = defineEmits<{ choose: [chosen: { product: number | null; family: string; name: string }] }>()

const select = useTemplateRef<{ blur: () => void }>('select')
const found = ref<Schemas['ProductRow'][]>([])
const search = ref('')
const trouble = ref('')
let run = 0

const value = computed(() =>
  props.product !== null ? `p:${props.product}` : props.family ? `f:${props.family}` : '',
)
const offered = computed(() => {
  const rows = found.value.map((row) => ({ value: `p:${row.id}`, label: row.name, says: row.maker }))
  const isListed = rows.some((row) => row.value === value.value)
  if (props.product !== null && !isListed)
    rows.unshift({ value: `p:${props.product}`, label: productName(props.product), says: '' })
  return rows
})
const alone = computed(() =>
  props.families.filter((one) => one.name.toLowerCase().includes(search.value.toLowerCase())),
)

async function find(text: string): Promise<void> {
  search.value = text
  const mine = ++run
  try {
    const query = { search: text, family: props.only }
    const page = await body(api.GET('/api/shelf/products', { params: { query } }))
    if (mine !== run) return
    for (const row of page.rows) rememberProduct(row.id, row.name, row.family)
    found.value = page.rows
    trouble.value = ''
  } catch (error) {
    if (mine === run) trouble.value = wordsOf(error)
  }
}

/** Enter takes what was typed, however late the answer to it comes; after an arrow key it takes what is marked. */
let typed: string | null = null
function onInput(event: Event): void {
  typed = (event.target as HTMLInputElement).value
}
async function onKey(event: KeyboardEvent): Promise<void> {
  if (event.key === 'ArrowDown' || event.key === 'ArrowUp') typed = null
  const wanted = typed?.trim().toLowerCase()
  if (event.key !== 'Enter' || !wanted) return
  event.preventDefault()
  event.stopPropagation()
  typed = null
  await find(wanted)
  const all = [
    ...offered.value.map((row) => ({ value: row.value, name: row.label.toLowerCase() })),
    ...alone.value.map((one) => ({ value: `f:${one.id}`, name: one.name.toLowerCase() })),
  ].filter((one) => one.name.includes(wanted))
  const best =
    all.find((one) => one.name === wanted) ?? all.find((one) => one.name.startsWith(wanted)) ?? all[0]
  if (!best) return
  choose(best.value)
  select.value?.blur()
}

function choose(chosen: string): void {
  const id = chosen.slice(2)
  if (chosen.startsWith('p:')) {
    const number = Number(id)
    emit('choose', { product: number, family: seen.get(number)?.family ?? '', name: productName(number) })
  } else {
    const name = props.families.find((one) => one.id === id)?.name ?? id
    emit('choose', { product: null, family: id, name })
  }
}
</script>

<template>
  <el-select
    :id="id"
    ref="select"
    :model-value="value"
    filterable
    remote
    default-first-option
    :aria-label="label"
    :placeholder="placeholder"
    :remote-method="find"
    :no-match-text="trouble || 'Nothing of that name'"
    :no-data-text="trouble || 'Nothing of that name'"
    @input.capture="onInput"
    @keydown.capture="onKey"
    @focus="find('')"
    @update:model-value="choose"
  >
    <el-option-group v-if="offered.length" label="On your shelf">
      <el-option v-for="row in offered" :key="row.value" :value="row.value" :label="row.label">
        {{ row.label }} <span class="quiet">{{ row.says }}</span>
      </el-option>
    </el-option-group>
    <el-option-group v-if="alone.length" label="By family alone">
      <el-option v-for="one in alone" :key="one.id" :value="`f:${one.id}`" :label="one.name" />
    </el-option-group>
  </el-select>
</template>
