import { defineStore } from 'pinia'
import { ref } from 'vue'
import { api, body, onSignedOut, Problem, type Schemas } from '@/api/client'

/** Who is signed in. `hasExpired` asks for the password again over the page, which keeps what it holds. */
export const useSession = defineStore('session', () => {
  const person = ref<Schemas['Session'] | null>(null)
  const isKnown = ref(false)
  const hasExpired = ref(false)

  onSignedOut(() => {
    if (person.value) hasExpired.value = true
  })

  async function look(): Promise<void> {
    try {
      person.value = await body(api.GET('/api/session'))
    } catch (error) {
      if (!(error instanceof Problem) || !error.isSignedOut) throw error
      person.value = null
    } finally {
      isKnown.value = true
    }
  }

  async function signIn(username: string, password: string): Promise<void> {
    const found = await body(api.POST('/api/session', { body: { username, password } }))
    person.value = found
    hasExpired.value = false
  }

  async function signOut(): Promise<void> {
    await api.DELETE('/api/session')
    person.value = null
    hasExpired.value = false
  }

  return { person, isKnown, hasExpired, look, signIn, signOut }
})
