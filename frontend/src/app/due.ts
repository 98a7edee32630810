import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'
import { nearest, shownOf, withinHour, type DueThing } from './dueWords'
import { now, takeServerTime } from './serverClock'

/** What is due at the bench over all trials, by the server's time; a judge's is always empty. */
export const useDue = defineStore('due', () => {
  const things = shallowRef<DueThing[]>([])
  const timeZone = ref('UTC')
  const trouble = ref('')

  async function load(): Promise<void> {
    const askedAt = performance.now()
    try {
      const found: Schemas['Due'] = await body(api.GET('/api/due'))
      takeServerTime(found.now, askedAt, performance.now())
      things.value = found.things
      timeZone.value = found.time_zone
      trouble.value = ''
    } catch (error) {
      // What was known goes on counting.
      trouble.value = wordsOf(error)
    }
  }

  /** By the time that each counts towards. */
  const shown = computed(() =>
    things.value.map((thing) => shownOf(thing, now.value)).sort((a, b) => a.moment - b.moment),
  )
  /** What matters most, if anything matters within the hour. */
  const first = computed(() => nearest(shown.value))
  const flags = computed(() => withinHour(shown.value, now.value).filter((each) => each !== first.value))

  return { things, timeZone, trouble, shown, first, flags, load }
})
