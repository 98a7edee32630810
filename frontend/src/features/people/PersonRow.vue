<script setup lang="ts">
import { ref } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'
import { ROLE_WORDS } from './model'

/** One person; an owner may change the role, the password, the right to sign in, and end what is open. */
const props = defineProps<{ person: Schemas['Person']; mayChange: boolean }>()
const emit = defineEmits<{ changed: [] }>()

const isOpen = ref(false)
const password = ref('')
const trouble = ref('')
const said = ref('')

async function change(fields: Schemas['PatchedChangedPersonRequest'], words: string): Promise<void> {
  trouble.value = said.value = ''
  try {
    const path = { person_id: props.person.id }
    await body(api.PATCH('/api/people/{person_id}', { params: { path }, body: fields }))
    password.value = ''
    said.value = words
    emit('changed')
  } catch (error) {
    trouble.value = wordsOf(error)
  }
}
</script>

<template>
  <tr>
    <th scope="row" :class="{ quiet: !person.is_active }">{{ person.display_name }}</th>
    <td class="mono">{{ person.username }}</td>
    <td>{{ ROLE_WORDS[person.role] }}{{ person.is_active ? '' : ' · may not sign in' }}</td>
    <td v-if="mayChange">
      <button class="press" :aria-expanded="isOpen" @click="isOpen = !isOpen">
        {{ isOpen ? 'Close' : 'Change' }}<span class="sr"> {{ person.display_name }}</span>
      </button>
    </td>
  </tr>
  <tr v-if="isOpen">
    <td colspan="4">
      <div class="row changes">
        <el-select
          :model-value="person.role"
          :aria-label="`Role of ${person.display_name}`"
          @change="(role: Schemas['RoleEnum']) => change({ role }, 'The role is changed.')"
        >
          <el-option v-for="(words, role) in ROLE_WORDS" :key="role" :value="role" :label="words" />
        </el-select>
        <form
          class="row"
          @submit.prevent="change({ password }, 'The password is changed; every session ended.')"
        >
          <el-input
            v-model="password"
            type="password"
            show-password
            autocomplete="new-password"
            placeholder="New password"
            :aria-label="`New password of ${person.display_name}`"
          />
          <button class="press" :disabled="!password">Give it</button>
        </form>
        <button class="press" @click="change({ end_sessions: true }, 'Signed out everywhere.')">
          Sign out everywhere
        </button>
        <button
          class="press"
          @click="
            change(
              { is_active: !person.is_active },
              person.is_active ? 'May not sign in any more.' : 'May sign in again.',
            )
          "
        >
          {{ person.is_active ? 'Take the right to sign in' : 'Let sign in again' }}
        </button>
      </div>
      <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
      <p v-if="said" role="status">{{ said }}</p>
    </td>
  </tr>
</template>

<style scoped>
.changes {
  flex-wrap: wrap;
  gap: 10px;
}
.changes :deep(.el-select),
.changes :deep(.el-input) {
  width: 215px;
}
th {
  color: var(--ink);
  font-size: 15px;
}
th.quiet {
  color: var(--quiet);
}
</style>
