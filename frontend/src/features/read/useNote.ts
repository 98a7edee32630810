import { ref } from 'vue'
import type { Target } from './useSitting'

/** A note while it is written: it stays with the spot that it was begun on when another is taken in hand. */
export function useNote(source: {
  target: () => Target | null
  standing: () => string
  keep: (words: string, at: Target) => void
}) {
  const noting = ref<Target | null>(null)
  const words = ref('')

  function open(): void {
    words.value = source.standing()
    noting.value = source.target()
  }
  function keep(): void {
    if (noting.value) source.keep(words.value, noting.value)
    noting.value = null
  }

  return { noting, words, open, keep }
}
