import { ref, watch, type Ref } from 'vue'
import { draftKey, useSession } from './session'

export interface KeptDraft<T> {
  /** What is being typed; null until there is something to show. */
  draft: Ref<T | null>
  /** Whether it differs from what the server has. */
  isChanged: Ref<boolean>
  /** Show what the server has, or what was typed over it and not sent before a reload. */
  show: (key: string, saved: T) => void
  /** The server has it now: forget the copy in the browser. */
  sent: (saved: T) => void
  /** Go back to what the server has. */
  leave: () => void
}

/** A form's content, kept in this browser while it differs from what the server has, so that a reload loses nothing. */
export function useKeptDraft<T extends object>(): KeptDraft<T> {
  const draft = ref(null) as Ref<T | null>
  const isChanged = ref(false)
  let key = ''
  let saved = ''

  function copyOf(text: string): T {
    return JSON.parse(text) as T
  }

  function show(newKey: string, found: T): void {
    key = draftKey(useSession().person?.id ?? 0, newKey)
    saved = JSON.stringify(found)
    const kept = localStorage.getItem(key)
    draft.value = kept === null ? copyOf(saved) : over(copyOf(saved), kept)
    isChanged.value = JSON.stringify(draft.value) !== saved
  }

  /** What was kept, laid over what the server has now: only what was typed, so that nothing newer is undone by it. */
  function over(now: T, text: string): T {
    const kept = JSON.parse(text) as { base: T; typed: T } | T
    // An earlier release kept what was typed alone.
    const { base, typed } = 'typed' in kept && 'base' in kept ? kept : { base: {} as T, typed: kept }
    if (Array.isArray(now)) return typed
    const own = Object.entries(typed).filter(
      ([field, value]) => JSON.stringify(value) !== JSON.stringify(base[field as keyof T]),
    )
    return { ...now, ...Object.fromEntries(own) }
  }

  function sent(found: T): void {
    localStorage.removeItem(key)
    saved = JSON.stringify(found)
    draft.value = copyOf(saved)
    isChanged.value = false
  }

  function leave(): void {
    localStorage.removeItem(key)
    draft.value = copyOf(saved)
    isChanged.value = false
  }

  watch(
    draft,
    (now) => {
      const text = JSON.stringify(now)
      isChanged.value = text !== saved
      if (isChanged.value) localStorage.setItem(key, JSON.stringify({ base: copyOf(saved), typed: now }))
      else localStorage.removeItem(key)
    },
    { deep: true },
  )

  return { draft, isChanged, show, sent, leave }
}
