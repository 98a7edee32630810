import { ref, shallowRef, watch, type Ref, type ShallowRef, type WatchSource } from 'vue'
import { wordsOf } from './client'

export interface Loaded<T> {
  data: ShallowRef<T | null>
  trouble: Ref<string>
  isLoading: Ref<boolean>
  /** Fetch anew; false when a later fetch has overtaken it, or it failed. */
  load: () => Promise<boolean>
  /** Whatever is on its way is not taken any more. */
  overtake: () => void
}

/**
 * The one way to fetch: when the sources change, or lazily when it is asked for. A late answer never overwrites a newer one, and
 * what was known stays when fetching fails.
 */
export function useLoaded<T>(
  fetchIt: () => Promise<T>,
  sources: WatchSource[] = [],
  { isLazy = false }: { isLazy?: boolean } = {},
): Loaded<T> {
  const data = shallowRef<T | null>(null)
  const trouble = ref('')
  const isLoading = ref(false)
  let run = 0

  async function load(): Promise<boolean> {
    const mine = ++run
    isLoading.value = true
    try {
      const found = await fetchIt()
      if (mine !== run) return false
      data.value = found
      trouble.value = ''
      return true
    } catch (error) {
      if (mine === run) trouble.value = wordsOf(error)
      return false
    } finally {
      if (mine === run) isLoading.value = false
    }
  }

  function overtake(): void {
    run++
    isLoading.value = false
  }

  if (!isLazy) watch(sources, () => void load(), { immediate: true })
  return { data, trouble, isLoading, load, overtake }
}
