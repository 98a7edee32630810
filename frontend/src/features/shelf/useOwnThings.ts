import { computed, ref } from 'vue'
import { wordsOf } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { matches } from './model'

interface Kept {
  item_id: number | null
  is_archived: boolean
}

/** A list of what ships and what is the shop's own, with search, and one thing at a time being changed. */
export function useOwnThings<Thing extends Kept>(options: {
  list: () => Promise<Thing[]>
  wordsOf: (thing: Thing) => string
}) {
  const loaded = useLoaded(options.list)
  const search = ref('')
  const isArchived = ref(false)
  const trouble = ref('')
  const isBusy = ref(false)

  const shown = computed(() =>
    (loaded.data.value ?? []).filter(
      (thing) => thing.is_archived === isArchived.value && matches(options.wordsOf(thing), search.value),
    ),
  )

  async function attempt(request: () => Promise<unknown>): Promise<boolean> {
    isBusy.value = true
    trouble.value = ''
    try {
      await request()
      await loaded.load()
      return true
    } catch (error) {
      trouble.value = wordsOf(error)
      return false
    } finally {
      isBusy.value = false
    }
  }

  return { ...loaded, loadTrouble: loaded.trouble, search, isArchived, shown, trouble, isBusy, attempt }
}
