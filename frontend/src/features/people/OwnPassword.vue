<script setup lang="ts">
import { ref } from 'vue'
import { api, wordsOf } from '@/api/client'

/** One's own password: the old once more, and the new. */
const draft = ref({ old: '', new: '' })
const trouble = ref('')
const said = ref('')

async function change(): Promise<void> {
  trouble.value = said.value = ''
  try {
    await api.PUT('/api/session/password', { body: draft.value })
    draft.value = { old: '', new: '' }
    said.value = 'Your password is changed. You stay signed in here and nowhere else.'
  } catch (error) {
    trouble.value = wordsOf(error)
  }
}
</script>

<template>
  <form class="sheet own" @submit.prevent="change">
    <h2>Your own password</h2>
    <div class="field">
      <label for="own-old">As it is now</label>
      <el-input id="own-old" v-model="draft.old" type="password" autocomplete="current-password" />
    </div>
    <div class="field">
      <label for="own-new">As it shall be, 10 characters or more</label>
      <el-input id="own-new" v-model="draft.new" type="password" show-password autocomplete="new-password" />
    </div>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
    <p v-if="said" role="status">{{ said }}</p>
    <button class="press" :disabled="!draft.old || !draft.new">Change it</button>
  </form>
</template>

<style scoped>
.own {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 14px;
  max-width: 720px;
  padding: 20px;
}
.own .field {
  width: 100%;
  max-width: 420px;
}
</style>
