<script setup lang="ts">
import { useSession } from '@/app/session'
import SignInForm from './SignInForm.vue'

/** Asks for the password over the page when the sign-in has ended; the page keeps all that it holds. */
const session = useSession()
</script>

<template>
  <el-dialog
    :model-value="session.hasExpired"
    title="Sign in again to go on"
    width="min(420px, 92vw)"
    :show-close="false"
    :close-on-click-modal="false"
    :close-on-press-escape="false"
    append-to-body
  >
    <p class="quiet kept">
      Your sign-in has ended, or somebody else has signed in in another tab. What you entered is kept and will
      be saved under your own name.
    </p>
    <SignInForm v-if="session.hasExpired" :username="session.person?.username" />
  </el-dialog>
</template>

<style scoped>
.kept {
  margin-bottom: 16px;
}
</style>
