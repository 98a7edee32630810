<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, body, Problem, wordsOf, type Schemas } from '@/api/client'
import { useOpenTrial } from '@/app/openTrial'
import LayerSection from '@/kit/LayerSection.vue'

type BuildUp = Schemas['BuildUp']

const open = useOpenTrial()
const trialId = computed(() => open.summary?.trial.id ?? 0)
const buildUps = computed(() => open.summary?.trial.build_ups ?? [])
const families = computed(() => new Map(open.reference?.families.map((family) => [family.id, family])))
// Once panels are graded the comparison is what it is; the server refuses changes too.
const isFixed = computed(() => (open.summary?.n_graded ?? 0) > 0)
const species = computed(() => open.summary?.trial.species[0])

const blank = () => ({ name: '', family: '', coats: 2 as number | null })
const draft = ref(blank())
const changing = ref<number | null>(null)
const trouble = ref('')
const isBusy = ref(false)
const nameBox = ref<{ focus: () => void } | null>(null)

function startChange(row: BuildUp): void {
  changing.value = row.id
  draft.value = { name: row.name, family: row.family ?? '', coats: row.coats ?? 1 }
  trouble.value = ''
  nameBox.value?.focus()
}

function stopChange(): void {
  changing.value = null
  draft.value = blank()
  trouble.value = ''
}

async function attempt(request: () => Promise<Schemas['TrialSummary']>): Promise<boolean> {
  isBusy.value = true
  trouble.value = ''
  try {
    open.summary = await request()
    return true
  } catch (error) {
    trouble.value = wordsOf(error)
    if (error instanceof Problem && error.code === 'conflict') changing.value = null
    return false
  } finally {
    isBusy.value = false
  }
}

async function save(): Promise<void> {
  const { name, family, coats } = draft.value
  if (coats == null || !family) {
    trouble.value = family ? 'Say how many coats.' : 'Choose the family that the finish belongs to.'
    return
  }
  const id = changing.value
  const sent = await attempt(() =>
    id === null
      ? body(
          api.POST('/api/trials/{trial_id}/build-ups', {
            params: { path: { trial_id: trialId.value } },
            body: { name, family, coats },
          }),
        )
      : body(
          api.PUT('/api/trials/{trial_id}/build-ups/{build_up_id}', {
            params: { path: { trial_id: trialId.value, build_up_id: id } },
            body: { name, family, coats },
          }),
        ),
  )
  if (sent) {
    stopChange()
    nameBox.value?.focus()
  }
}

function remove(row: BuildUp): Promise<boolean> {
  return attempt(() =>
    body(
      api.DELETE('/api/trials/{trial_id}/build-ups/{build_up_id}', {
        params: { path: { trial_id: trialId.value, build_up_id: row.id } },
      }),
    ),
  )
}
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>Candidates</h1>
        <p class="quiet">The build-ups that this trial compares; the bare control is always among them</p>
      </div>
      <RouterLink v-if="buildUps.length > 1" class="press press-main" :to="`/trials/${trialId}/design`"
        >On to the design</RouterLink
      >
    </header>

    <ul class="list sheet">
      <li v-for="row in buildUps" :key="row.id" class="candidate" :class="{ changing: row.id === changing }">
        <LayerSection
          :seat="row.is_control ? null : (families.get(row.family ?? '')?.seat ?? 'on')"
          :coats="row.coats ?? 0"
          :species="species"
        />
        <div class="words">
          <strong>{{ row.name }}</strong>
          <span v-if="row.is_control" class="quiet"
            >Untreated: it should fail, which shows that the tests bite</span
          >
          <span v-else class="quiet"
            >{{ families.get(row.family ?? '')?.name }} · {{ row.coats }}
            {{ row.coats === 1 ? 'coat' : 'coats' }} · {{ families.get(row.family ?? '')?.setting }}</span
          >
        </div>
        <div v-if="!row.is_control && !isFixed" class="row">
          <button
            class="press"
            :disabled="isBusy"
            :aria-label="`Change ${row.name}`"
            @click="startChange(row)"
          >
            Change
          </button>
          <button class="press" :disabled="isBusy" :aria-label="`Remove ${row.name}`" @click="remove(row)">
            Remove
          </button>
        </div>
      </li>
    </ul>

    <p v-if="isFixed" class="quiet">
      Panels have been graded, so the build-ups stand. A new comparison is a new trial.
    </p>
    <form v-else class="sheet add" @submit.prevent="save">
      <h2>{{ changing === null ? 'Add a build-up' : 'Change the build-up' }}</h2>
      <div class="fields">
        <div class="field name">
          <label for="build-up-name">Name</label>
          <el-input
            id="build-up-name"
            ref="nameBox"
            v-model="draft.name"
            maxlength="120"
            placeholder="Fellgate Hardoil 2K"
          />
        </div>
        <div class="field family">
          <label for="build-up-family">Family</label>
          <el-select id="build-up-family" v-model="draft.family" filterable placeholder="Choose">
            <el-option
              v-for="family in open.reference?.families"
              :key="family.id"
              :value="family.id"
              :label="family.name"
            />
          </el-select>
        </div>
        <div class="field">
          <label for="build-up-coats">Coats</label>
          <el-input-number id="build-up-coats" v-model="draft.coats" :min="0" :max="20" />
        </div>
        <button class="press press-main" :disabled="isBusy">{{ changing === null ? 'Add' : 'Save' }}</button>
        <button v-if="changing !== null" type="button" class="press" @click="stopChange">
          Leave as it was
        </button>
      </div>
      <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
    </form>
  </div>
</template>

<style scoped>
.list {
  margin: 0;
  padding: 0;
  list-style: none;
}
.candidate {
  display: flex;
  align-items: center;
  gap: 20px;
  padding: 10px 16px;
  border-bottom: 1px solid var(--hairline);
}
.candidate:last-child {
  border-bottom: 0;
}
.changing {
  background: var(--ground);
}
.words {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-width: 0;
}
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
.name {
  flex: 2 1 240px;
}
.family {
  flex: 2 1 240px;
}
</style>
