<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, body } from '@/api/client'
import { askBeforeLeaving } from '@/app/askBeforeLeaving'
import { useOpenTrial } from '@/app/openTrial'
import StateView from '@/kit/StateView.vue'
import ComposerBoard from './ComposerBoard.vue'
import { useComposer } from './useComposer'

const open = useOpenTrial()
const trial = computed(() => open.summary?.trial)
const path = computed(() => ({ trial_id: trial.value?.id ?? 0 }))
const composer = useComposer({
  key: () => `protocol.${path.value.trial_id}`,
  ask: (protocol, change) =>
    body(
      api.POST('/api/trials/{trial_id}/protocol', {
        params: { path: path.value },
        body: { protocol, change },
      }),
    ),
  keep: (draft) =>
    body(api.PUT('/api/trials/{trial_id}/protocol', { params: { path: path.value }, body: draft })),
})
const { composed, draft, isChanged, trouble, loadTrouble, isBusy } = composer
const isAdding = ref(false)
const said = ref('')

watch(
  () => trial.value?.id,
  (id) => id && void composer.load(),
  { immediate: true },
)
const isFixed = computed(() => composed.value?.is_fixed ?? true)

async function save(): Promise<void> {
  if ((await composer.save()) && trial.value) await open.load(trial.value.id)
}
/** A copy on the shelf, for the next trial. */
async function shelve(): Promise<void> {
  const own = draft.value
  if (!own) return
  const name = `${own.name}, ${trial.value?.name ?? 'ours'}`.slice(0, 120)
  said.value = (await composer.send(() => body(api.POST('/api/shelf/protocols', { body: { ...own, name } }))))
    ? `Kept on the shelf as “${name}”.`
    : ''
}

askBeforeLeaving(isChanged)
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>What is done, and when it is read</h1>
        <p v-if="draft" class="quiet">
          {{ draft.tests.length }} {{ draft.tests.length === 1 ? 'test' : 'tests' }} of this trial’s own
          protocol, from <em>{{ draft.name }}</em>{{ isFixed ? '; the trial has started, so it stands' : '' }}
        </p>
      </div>
      <div v-if="draft && !isFixed" class="row">
        <button class="press" :aria-expanded="isAdding" @click="isAdding = !isAdding">Add a test</button>
        <button class="press" :disabled="isBusy" @click="shelve">Keep on the shelf</button>
        <button v-if="isChanged" class="press" :disabled="isBusy" @click="composer.leave">
          Leave changes
        </button>
        <button class="press press-main" :disabled="isBusy || !isChanged" @click="save">
          {{ isChanged ? 'Save the protocol' : 'Saved' }}
        </button>
      </div>
    </header>
    <StateView v-if="loadTrouble" kind="trouble" title="The protocol cannot be shown" :says="loadTrouble">
      <button class="press press-main" @click="composer.load">Try again</button>
    </StateView>
    <StateView v-else-if="!composed || !draft" kind="busy" title="Laying the tests on the rule…" />
    <template v-else>
      <p v-if="trouble" class="sheet refused" role="alert" :data-field="composer.troubledField.value">
        {{ trouble }}
      </p>
      <p v-if="isChanged && composed.has_lots" class="caution">
        The lots of this trial are drawn for the protocol as it was. Saving discards them.
      </p>
      <p v-if="said" class="quiet" role="status">{{ said }}</p>
      <ComposerBoard
        v-model:is-adding="isAdding"
        :composer="composer"
        :species="trial?.species[0] ?? 'beech'"
      />
    </template>
  </div>
</template>

<style scoped>
.refused {
  margin: 0;
  padding: 10px 16px;
  border-left: 4px solid var(--late);
}
</style>
