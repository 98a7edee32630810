<script setup lang="ts">
import { ref } from 'vue'
import { wordsOf } from '@/api/client'
import { useSession } from '@/app/session'

const props = defineProps<{ username?: string }>()

const session = useSession()
const username = ref(props.username ?? '')
const password = ref('')
const trouble = ref('')
const isBusy = ref(false)

async function submit(): Promise<void> {
  isBusy.value = true
  trouble.value = ''
  try {
    await session.signIn(username.value, password.value)
  } catch (error) {
    trouble.value = wordsOf(error)
  } finally {
    isBusy.value = false
  }
}
</script>

<template>
  <form class="form" @submit.prevent="submit">
    <div class="field">
      <label for="username">Sign-in name</label>
      <el-input
        id="username"
        v-model="username"
        autocomplete="username"
        autocapitalize="none"
        :readonly="Boolean(props.username)"
        required
        :autofocus="!props.username"
      />
    </div>
    <div class="field">
      <label for="password">Password</label>
      <el-input
        id="password"
        v-model="password"
        type="password"
        autocomplete="current-password"
        required
        :autofocus="Boolean(props.username)"
      />
    </div>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
    <button class="press press-main" :disabled="isBusy || !username || !password">Sign in</button>
  </form>
</template>

<style scoped>
.form {
  display: flex;
  flex-direction: column;
  gap: 16px;
}
</style>
