import { computed, ref } from 'vue'
import { wordsOf } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { matches } from './model'

/** Something that ships (`item_id` is null) or is the shop's own. */
export interface OwnThing {
  id: string
  item_id: number | null
  is_archived: boolean
}

/** A list of what ships and what is the shop's own, with search, and a change at a time. */
export function useOwnThings<Thing extends OwnThing>(options: {
  list: () => Promise<Thing[]>
  wordsOf: (thing: Thing) => string
}) {
  const { data, trouble: loadTrouble, load } = useLoaded(options.list)
  const search = ref('')
  const isArchived = ref(false)
  const trouble = ref('')
  const isBusy = ref(false)

  const shown = computed(() =>
    (data.value ?? []).filter(
      (thing) => thing.is_archived === isArchived.value && matches(options.wordsOf(thing), search.value),
    ),
  )

  async function attempt(request: () => Promise<unknown>): Promise<boolean> {
    isBusy.value = true
    trouble.value = ''
    try {
      await request()
      await load()
      return true
    } catch (error) {
      trouble.value = wordsOf(error)
      return false
    } finally {
      isBusy.value = false
    }
  }

  return { data, loadTrouble, load, search, isArchived, shown, trouble, isBusy, attempt }
}

export type OwnThings<Thing extends OwnThing> = ReturnType<typeof useOwnThings<Thing>>
