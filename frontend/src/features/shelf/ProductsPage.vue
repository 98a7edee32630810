<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { api, body, type Schemas } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useOpenTrial } from '@/app/openTrial'
import LayerSection from '@/kit/LayerSection.vue'
import StateView from '@/kit/StateView.vue'
import { quantityOf } from '@/kit/units'
import { DISCLOSURE_WORDS, SHEEN_WORDS } from './model'
import ShelfFile from './ShelfFile.vue'
import ShelfTabs from './ShelfTabs.vue'

const open = useOpenTrial()
void open.loadReference()
const families = computed(() => new Map(open.reference?.families.map((family) => [family.id, family])))

const typed = ref('')
const search = ref('')
const family = ref('')
const isArchived = ref(false)
const more = ref<Schemas['ProductRow'][]>([])

function find(start: number): Promise<Schemas['ProductPage']> {
  const query = { search: search.value, family: family.value, is_archived: isArchived.value, start }
  return body(api.GET('/api/shelf/products', { params: { query } }))
}
const { data, trouble, load } = useLoaded(() => {
  more.value = []
  return find(0)
}, [search, family, isArchived])
watch(
  typed,
  useDebounceFn(() => (search.value = typed.value), 120),
)

const rows = computed(() => [...(data.value?.rows ?? []), ...more.value])
const left = computed(() => (data.value?.n_found ?? 0) - rows.value.length)
const isEmpty = computed(
  () => data.value?.n_found === 0 && !search.value && !family.value && !isArchived.value,
)

async function showMore(): Promise<void> {
  const page = await find(rows.value.length)
  more.value = [...more.value, ...page.rows]
}

function drawn(row: Schemas['ProductRow']) {
  return [{ family: row.family, seat: families.value.get(row.family)?.seat ?? ('on' as const), coats: 2 }]
}
function details(row: Schemas['ProductRow']): string {
  const sheen = SHEEN_WORDS[row.sheen as Schemas['SheenEnum']]
  return [families.value.get(row.family)?.name, sheen?.toLowerCase(), row.tint].filter(Boolean).join(' · ')
}
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>Shelf</h1>
        <p class="quiet">What is put on the wood: as bought, as the label says, as you found it</p>
      </div>
      <ShelfTabs />
    </header>
    <div class="row">
      <div class="find">
        <label class="sr" for="product-search">Find a product</label>
        <el-input
          id="product-search"
          v-model="typed"
          clearable
          placeholder="Find by name, maker, family, tint"
        />
      </div>
      <label class="sr" for="product-family">Family</label>
      <el-select
        id="product-family"
        v-model="family"
        class="family"
        clearable
        filterable
        placeholder="All families"
      >
        <el-option v-for="one in open.reference?.families" :key="one.id" :value="one.id" :label="one.name" />
      </el-select>
      <label class="choice"><input v-model="isArchived" type="checkbox" /> Archived</label>
      <RouterLink class="press press-main" to="/shelf/products/new">New product</RouterLink>
    </div>

    <StateView v-if="trouble" kind="trouble" title="The products cannot be listed" :says="trouble">
      <button class="press press-main" @click="load">Try again</button>
    </StateView>
    <StateView
      v-else-if="isEmpty"
      title="Nothing on the shelf yet"
      says="Put the finishes on it that you want to compare: what the label says about windows, spread and cure feeds the build-ups, the calculators and the plan."
    >
      <RouterLink class="press press-main" to="/shelf/products/new">New product</RouterLink>
      <ShelfFile kind="products" noun="product" @written="load" />
    </StateView>
    <template v-else-if="data">
      <div class="page-head">
        <p class="quiet" role="status">
          {{ data.n_found }} {{ data.n_found === 1 ? 'product' : 'products'
          }}{{ isArchived ? ' in the archive' : '' }}
        </p>
        <ShelfFile kind="products" noun="product" @written="load" />
      </div>
      <ul class="sheet list">
        <li v-for="row in rows" :key="row.id">
          <RouterLink class="product" :to="`/shelf/products/${row.id}`">
            <LayerSection :layers="drawn(row)" />
            <span class="words">
              <strong>{{ row.name }}</strong>
              <span class="quiet">{{ details(row) }}</span>
            </span>
            <span class="maker quiet">{{ row.maker }}</span>
            <span class="disclosed quiet">{{
              DISCLOSURE_WORDS[row.disclosure as Schemas['DisclosureEnum']]
            }}</span>
            <span class="figure">{{ quantityOf('price_per_l', row.price_per_l) }}</span>
          </RouterLink>
        </li>
      </ul>
      <button v-if="left > 0" class="press" @click="showMore">Show more ({{ left }} left)</button>
    </template>
    <StateView v-else kind="busy" title="Looking along the shelf…" />
  </div>
</template>

<style scoped>
.find {
  flex: 1 1 240px;
  max-width: 360px;
}
.family {
  width: 220px;
}
.list {
  margin: 0;
  padding: 0;
  list-style: none;
}
.list li + li {
  border-top: 1px solid var(--hairline);
}
.product {
  display: grid;
  grid-template-columns: 96px minmax(0, 2fr) minmax(0, 1fr) minmax(0, 1fr) 92px;
  align-items: center;
  gap: 16px;
  padding: 8px 16px;
  color: var(--ink);
  text-decoration: none;
}
.product:hover {
  background: var(--ground);
}
.product:focus-visible {
  outline-offset: -3px;
}
.words {
  display: flex;
  flex-direction: column;
}
@media (max-width: 900px) {
  .product {
    grid-template-columns: 96px minmax(0, 1fr) 92px;
  }
  .maker,
  .disclosed {
    display: none;
  }
}
</style>
