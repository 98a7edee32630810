<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useSession } from '@/app/session'
import StateView from '@/kit/StateView.vue'
import { ROLE_WORDS } from './model'
import OwnPassword from './OwnPassword.vue'
import PersonRow from './PersonRow.vue'

const session = useSession()
const keeps = computed(() => session.person?.keeps_key ?? false)
const {
  data: people,
  trouble: loadTrouble,
  load,
} = useLoaded(async () => (keeps.value ? body(api.GET('/api/people')) : null))
const isOwner = computed(() => session.person?.role === 'owner')

const blank = (): Schemas['NewPersonRequest'] => ({
  username: '',
  display_name: '',
  role: 'judge',
  password: '',
})
const draft = ref(blank())
const trouble = ref('')
const said = ref('')

async function add(): Promise<void> {
  trouble.value = said.value = ''
  try {
    const added = await body(api.POST('/api/people', { body: draft.value }))
    said.value = `${added.display_name} may sign in as ${added.username}.`
    draft.value = blank()
    await load()
  } catch (error) {
    trouble.value = wordsOf(error)
  }
}
</script>

<template>
  <div class="page">
    <h1>{{ keeps ? 'People' : 'Password' }}</h1>
    <StateView v-if="loadTrouble" kind="trouble" title="The people cannot be listed" :says="loadTrouble">
      <button class="press press-main" @click="load">Try again</button>
    </StateView>
    <table v-else-if="people" class="plain list">
      <tbody>
        <PersonRow
          v-for="person in people"
          :key="person.id"
          :person="person"
          :may-change="isOwner"
          @changed="load"
        />
      </tbody>
    </table>
    <OwnPassword />
    <form v-if="isOwner" class="sheet add" @submit.prevent="add">
      <h2>Add someone</h2>
      <div class="field">
        <label for="person-name">Name, as readings show it</label>
        <el-input id="person-name" v-model="draft.display_name" maxlength="120" required />
      </div>
      <div class="field">
        <label for="person-username">Sign-in name</label>
        <el-input
          id="person-username"
          v-model="draft.username"
          maxlength="60"
          autocapitalize="none"
          required
        />
      </div>
      <div class="field">
        <label for="person-role">Role</label>
        <el-select id="person-role" v-model="draft.role">
          <el-option v-for="(words, role) in ROLE_WORDS" :key="role" :value="role" :label="words" />
        </el-select>
      </div>
      <div class="field">
        <label for="person-password">Password, 10 characters or more</label>
        <el-input
          id="person-password"
          v-model="draft.password"
          type="password"
          show-password
          autocomplete="new-password"
          required
        />
      </div>
      <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
      <p v-if="said" role="status">{{ said }}</p>
      <button class="press press-main">Add</button>
    </form>
  </div>
</template>

<style scoped>
.list {
  max-width: 1020px;
}
.add {
  max-width: 720px;
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 14px;
  padding: 20px;
}
.add .field {
  width: 100%;
  max-width: 420px;
}
</style>
