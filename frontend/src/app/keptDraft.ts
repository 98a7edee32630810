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
    // What was kept by an earlier release lacks what has come since.
    draft.value =
      kept === null || Array.isArray(found) ? copyOf(kept ?? saved) : { ...copyOf(saved), ...copyOf(kept) }
    isChanged.value = kept !== null && kept !== saved
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
      if (isChanged.value) localStorage.setItem(key, text)
      else localStorage.removeItem(key)
    },
    { deep: true },
  )

  return { draft, isChanged, show, sent, leave }
}
