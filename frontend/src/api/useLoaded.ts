import { ref, shallowRef, watch, type Ref, type ShallowRef, type WatchSource } from 'vue'
import { wordsOf } from './client'

export interface Loaded<T> {
  data: ShallowRef<T | null>
  trouble: Ref<string>
  isLoading: Ref<boolean>
  load: () => Promise<void>
}

/** Load when the sources change; a late answer never overwrites a newer one. */
export function useLoaded<T>(fetchIt: () => Promise<T>, sources: WatchSource[] = []): Loaded<T> {
  const data = shallowRef<T | null>(null)
  const trouble = ref('')
  const isLoading = ref(false)
  let run = 0

  async function load(): Promise<void> {
    const mine = ++run
    isLoading.value = true
    try {
      const found = await fetchIt()
      if (mine !== run) return
      data.value = found
      trouble.value = ''
    } catch (error) {
      if (mine === run) trouble.value = wordsOf(error)
    } finally {
      if (mine === run) isLoading.value = false
    }
  }

  watch(sources, load, { immediate: true })
  return { data, trouble, isLoading, load }
}
