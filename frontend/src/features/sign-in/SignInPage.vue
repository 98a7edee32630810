<script setup lang="ts">
import { watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useSession } from '@/app/session'
import SignInForm from './SignInForm.vue'

const route = useRoute()
const router = useRouter()
const session = useSession()

/** Only addresses of our own: a link must not lead elsewhere after sign-in. */
function onward(): void {
  const next = typeof route.query.next === 'string' ? route.query.next : '/'
  void router.replace(/^\/(?![/\\])/.test(next) ? next : '/')
}

watch(
  () => session.person,
  (person) => person && onward(),
  { immediate: true },
)
</script>

<template>
  <main class="door">
    <section class="sheet card">
      <h1>Nublet</h1>
      <p class="quiet">Which finish for which use, how sure you may be, and why.</p>
      <SignInForm />
    </section>
  </main>
</template>

<style scoped>
.door {
  display: grid;
  place-items: center;
  min-height: 100%;
  padding: 24px;
  background: repeating-linear-gradient(180deg, var(--line) 0 1px, transparent 1px 6px) left top / 9px 100%
    no-repeat;
}
.card {
  display: flex;
  flex-direction: column;
  gap: 16px;
  width: 100%;
  max-width: 400px;
  padding: 32px;
}
</style>
