<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router'
import { api, body, Problem, wordsOf, type Schemas } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useKeptDraft } from '@/app/keptDraft'
import { useOpenTrial } from '@/app/openTrial'
import StateView from '@/kit/StateView.vue'
import { quantityOf } from '@/kit/units'
import { draftOf, emptyProduct, type ProductDraft } from './model'
import ProductBatches from './ProductBatches.vue'
import ProductFigures from './ProductFigures.vue'
import ProductHistory from './ProductHistory.vue'
import ProductIdentity from './ProductIdentity.vue'
import ProductParts from './ProductParts.vue'

type Detail = Schemas['ProductDetail']

const route = useRoute()
const router = useRouter()
const open = useOpenTrial()
void open.loadReference()

const productId = computed(() => (route.params.productId === 'new' ? null : Number(route.params.productId)))
const kept = useKeptDraft<ProductDraft>()
const { draft, isChanged } = kept
const trouble = ref('')
const troubledField = ref('')
const said = ref('')
const isBusy = ref(false)
const families = computed(() => open.reference?.families ?? [])
const family = computed(() => families.value.find((one) => one.id === draft.value?.family))

const {
  data: detail,
  trouble: loadTrouble,
  load: fetchDetail,
} = useLoaded<Detail | null>(
  async () => {
    if (productId.value === null) return null
    const path = { item_id: productId.value }
    return body(api.GET('/api/shelf/products/{item_id}', { params: { path } }))
  },
  [],
  { isLazy: true },
)

const standing = (): Detail | null => detail.value

async function load(): Promise<void> {
  trouble.value = said.value = ''
  detail.value = null
  if (!(await fetchDetail())) return
  const found = standing()
  if (productId.value === null) kept.show('product.new', emptyProduct())
  else if (found) kept.show(`product.${productId.value}`, draftOf(found.product))
}
watch(
  productId,
  (now, before) => {
    // After a first save the page is already the product's own.
    if (before === undefined || detail.value?.id !== now) void load()
  },
  { immediate: true },
)

async function attempt(request: () => Promise<string>): Promise<void> {
  isBusy.value = true
  trouble.value = troubledField.value = said.value = ''
  try {
    said.value = await request()
  } catch (error) {
    trouble.value = wordsOf(error)
    troubledField.value = error instanceof Problem ? (error.field ?? '') : ''
  } finally {
    isBusy.value = false
  }
}

function save(): Promise<void> {
  return attempt(async () => {
    const fields = draft.value as ProductDraft
    const id = productId.value
    const found = await body(
      id === null
        ? api.POST('/api/shelf/products', { body: fields })
        : api.PUT('/api/shelf/products/{item_id}', { params: { path: { item_id: id } }, body: fields }),
    )
    kept.sent(draftOf(found.product))
    detail.value = found
    kept.show(`product.${found.id}`, draftOf(found.product))
    if (id === null) await router.replace(`/shelf/products/${found.id}`)
    return `${found.product.name} is on the shelf.`
  })
}
function duplicate(): Promise<void> {
  return attempt(async () => {
    const path = { item_id: productId.value ?? 0 }
    const copy = await body(api.POST('/api/shelf/products/{item_id}/duplicate', { params: { path } }))
    await router.push(`/shelf/products/${copy.id}`)
    return `This is the copy.`
  })
}
function archive(isArchived: boolean): Promise<void> {
  return attempt(async () => {
    const path = { item_id: productId.value ?? 0 }
    await api.POST('/api/shelf/products/{item_id}/archive', {
      params: { path },
      body: { is_archived: isArchived },
    })
    if (detail.value) detail.value = { ...detail.value, is_archived: isArchived }
    return isArchived ? 'In the archive: trials that used it keep it.' : 'Back on the shelf.'
  })
}
onBeforeRouteLeave(() => {
  // A draft that was never touched is not worth keeping; a changed one waits in the browser.
  if (!isChanged.value) kept.leave()
})
</script>

<template>
  <div class="page">
    <StateView v-if="loadTrouble" kind="trouble" title="This product cannot be shown" :says="loadTrouble">
      <RouterLink class="press press-main" to="/shelf/products">All products</RouterLink>
    </StateView>
    <form v-else-if="draft" class="form" @submit.prevent="save">
      <header class="page-head">
        <div>
          <h1>{{ draft.name || 'New product' }}</h1>
          <p class="quiet">
            <RouterLink to="/shelf/products">Shelf</RouterLink>
            <template v-if="detail">
              · {{ quantityOf('price_per_l', detail.price_per_l) }} ready to use<template
                v-if="detail.is_archived"
              >
                · in the archive</template
              ><template v-if="detail.used_in.length"> · used in {{ detail.used_in.join('; ') }}</template>
            </template>
          </p>
        </div>
        <div class="row">
          <button v-if="isChanged && detail" type="button" class="press" @click="kept.leave()">
            Leave as it was
          </button>
          <template v-if="detail && !isChanged">
            <button type="button" class="press" :disabled="isBusy" @click="duplicate">Duplicate</button>
            <button type="button" class="press" :disabled="isBusy" @click="archive(!detail.is_archived)">
              {{ detail.is_archived ? 'Put back' : 'Archive' }}
            </button>
          </template>
          <button class="press press-main" :disabled="isBusy || !isChanged">Save</button>
        </div>
      </header>
      <p v-if="trouble" class="late" role="alert" :data-field="troubledField">{{ trouble }}</p>
      <p v-else-if="said" role="status">{{ said }}</p>
      <p v-else-if="isChanged" class="caution" role="status">Not saved yet; a reload keeps what you typed.</p>
      <div class="columns">
        <div class="column">
          <ProductIdentity v-model="draft" :families="families" :family="family" />
          <ProductParts v-model="draft" />
        </div>
        <ProductFigures v-model="draft" :family="family" />
      </div>
    </form>
    <StateView v-else kind="busy" title="Taking it from the shelf…" />
    <ProductBatches
      v-if="detail && productId !== null"
      :product-id="productId"
      :batches="detail.batches"
      @changed="detail = $event"
    />
    <ProductHistory v-if="detail && productId !== null" :product-id="productId" />
  </div>
</template>

<style scoped>
.form,
.column {
  display: flex;
  flex-direction: column;
  gap: 20px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 20px;
  align-items: start;
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
