import { defineStore } from 'pinia'
import { ref, watch } from 'vue'
import { setCurrency } from '@/kit/units'
import { askOrKept, forgetAnswers, keepAnswersOf, SESSION } from '@/api/kept'
import { api, body, onSignedOut, Problem, setPageOf, type Schemas } from '@/api/client'

const DRAFTS = 'nublet.draft.'

/** Where this person's unsent text is kept in this browser. */
export function draftKey(person: number, name: string): string {
  return `${DRAFTS}${person}.${name}`
}

/** What of this person's text has not been sent. */
export function keptDrafts(person: number): string[] {
  return Object.keys(localStorage).filter((key) => key.startsWith(draftKey(person, '')))
}

function forgetDrafts(person: number): void {
  for (const key of keptDrafts(person)) localStorage.removeItem(key)
}

const TRIES_WHILE_BUSY = 8

/** Ask again by itself while the server says that many sign in at once, each time a little later. */
async function whenNotBusy<T>(ask: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries += 1)
    try {
      return await ask()
    } catch (error) {
      if (!(error instanceof Problem) || error.code !== 'busy' || tries >= TRIES_WHILE_BUSY) throw error
      // Not all at the same moment again.
      await new Promise((resolve) => setTimeout(resolve, tries * (200 + Math.random() * 300)))
    }
}

/** Who is signed in. `hasExpired` asks for the password again over the page, which keeps what it holds. */
export const useSession = defineStore('session', () => {
  const person = ref<Schemas['Session'] | null>(null)
  const isKnown = ref(false)
  const hasExpired = ref(false)

  onSignedOut(() => {
    if (person.value) hasExpired.value = true
  })

  // Before anything that follows from the change asks the server.
  watch(person, (now) => setPageOf(now?.id ?? null), { flush: 'sync' })
  watch(person, (now) => now && void keepAnswersOf(now.id).catch(() => undefined), { flush: 'sync' })
  watch(person, (now) => setCurrency(now?.currency ?? ''), { flush: 'sync' })

  async function look(): Promise<void> {
    try {
      // With no server there the page opens for whoever was signed in last: nothing of it can be sent as another.
      person.value = await askOrKept(SESSION, () => body(api.GET('/api/session')))
    } catch (error) {
      if (!(error instanceof Problem) || !error.isSignedOut) throw error
      person.value = null
      await forgetAnswers().catch(() => undefined)
    } finally {
      isKnown.value = true
    }
  }

  async function signIn(username: string, password: string): Promise<void> {
    // Whoever signs in is not yet whose page it is.
    setPageOf(null)
    const found = await whenNotBusy(() => body(api.POST('/api/session', { body: { username, password } })))
    setPageOf(found.id)
    person.value = found
    void askOrKept(SESSION, () => Promise.resolve(found))
    hasExpired.value = false
  }

  async function signOut(): Promise<void> {
    await api.DELETE('/api/session')
    if (person.value) forgetDrafts(person.value.id)
    await forgetAnswers().catch(() => undefined)
    person.value = null
    hasExpired.value = false
  }

  return { person, isKnown, hasExpired, look, signIn, signOut }
})
