<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, body } from '@/api/client'
import { askBeforeLeaving } from '@/app/askBeforeLeaving'
import { useOpenTrial } from '@/app/openTrial'
import StateView from '@/kit/StateView.vue'
import ComposerBoard from './ComposerBoard.vue'
import { useComposer } from './useComposer'

/** A protocol of the shelf: one of the shop's own to change, or what ships to look at and copy. */
const route = useRoute()
const router = useRouter()
const open = useOpenTrial()
const id = computed(() => String(route.params.protocolId))
const itemId = ref<number | null>(null)
const isNew = computed(() => route.query.copy !== undefined)
const isFixed = computed(() => !isNew.value && itemId.value === null)

const composer = useComposer({
  key: () => `shelf-protocol.${id.value}${isNew.value ? '.copy' : ''}`,
  ask: async (protocol, change) => {
    const own = protocol ?? (await standing())
    const found = await body(api.POST('/api/library/compose', { body: { protocol: own, change } }))
    return { ...found, is_fixed: isFixed.value }
  },
  keep: async (draft) => {
    const kept =
      isNew.value || itemId.value === null
        ? await body(api.POST('/api/shelf/protocols', { body: draft }))
        : await body(
            api.PUT('/api/shelf/protocols/{item_id}', {
              params: { path: { item_id: itemId.value } },
              body: draft,
            }),
          )
    itemId.value = kept.id
    return body(api.POST('/api/library/compose', { body: { protocol: draft } }))
  },
})
const { composed, draft, isChanged, trouble, loadTrouble, isBusy } = composer
const isAdding = ref(false)
const name = ref('')
const says = ref('')

/** What stands on the shelf by this id; of a copy by another name. */
async function standing() {
  const rows = await body(api.GET('/api/shelf/protocols'))
  const row = rows.find((each) => each.id === id.value)
  if (!row) throw new Error('There is no such protocol on the shelf. Go back and choose one.')
  itemId.value = isNew.value ? null : row.item_id
  return isNew.value ? { ...row.protocol, name: `${row.protocol.name}, ours`.slice(0, 120) } : row.protocol
}

watch([id, isNew], () => void composer.load(), { immediate: true })
watch(draft, (now) => {
  name.value = now?.name ?? ''
  says.value = now?.says ?? ''
})
void open.loadReference()

function rename(): void {
  if (draft.value && (name.value !== draft.value.name || says.value !== draft.value.says))
    void composer.change({ ...draft.value, name: name.value, says: says.value }, null)
}
async function save(): Promise<void> {
  if (await composer.save()) await router.push('/shelf/protocols')
}

askBeforeLeaving(isChanged)
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>{{ draft?.name ?? 'Protocol' }}</h1>
        <p v-if="draft" class="quiet">
          {{ draft.tests.length }} tests<template v-if="isFixed">
            · ships with Nublet: copy it to change it</template
          ><template v-else-if="!isNew">
            · version {{ draft.version }}, trials keep the one they took</template
          >
        </p>
      </div>
      <div class="row">
        <RouterLink class="press" to="/shelf/protocols">Back to the shelf</RouterLink>
        <RouterLink
          v-if="isFixed && draft"
          class="press press-main"
          :to="{ path: `/shelf/protocols/${id}`, query: { copy: '' } }"
          >Copy it</RouterLink
        >
        <template v-else-if="draft">
          <button class="press" :aria-expanded="isAdding" @click="isAdding = !isAdding">Add a test</button>
          <button class="press press-main" :disabled="isBusy || !(isChanged || isNew)" @click="save">
            Keep on the shelf
          </button>
        </template>
      </div>
    </header>
    <StateView v-if="loadTrouble" kind="trouble" title="The protocol cannot be shown" :says="loadTrouble">
      <button class="press press-main" @click="composer.load">Try again</button>
    </StateView>
    <StateView v-else-if="!composed || !draft" kind="busy" title="Laying the tests on the rule…" />
    <template v-else>
      <p v-if="trouble" class="sheet refused" role="alert">{{ trouble }}</p>
      <div v-if="!isFixed" class="names">
        <div class="field">
          <label for="protocol-name">Name</label>
          <el-input id="protocol-name" v-model="name" maxlength="120" @change="rename" />
        </div>
        <div class="field">
          <label for="protocol-says">What it is for</label>
          <el-input id="protocol-says" v-model="says" maxlength="2000" @change="rename" />
        </div>
      </div>
      <p v-else class="quiet">{{ draft.says }}</p>
      <ComposerBoard v-model:is-adding="isAdding" :composer="composer" species="beech" />
    </template>
  </div>
</template>

<style scoped>
.names {
  display: grid;
  grid-template-columns: 1fr 2fr;
  gap: 14px;
}
.refused {
  margin: 0;
  padding: 10px 16px;
  border-left: 4px solid var(--late);
}
@media (max-width: 640px) {
  .names {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
