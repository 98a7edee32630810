import { defineStore } from 'pinia'
import { computed } from 'vue'
import { api, body, type Schemas } from '@/api/client'
import { askOrKept } from '@/api/kept'
import { useLoaded } from '@/api/useLoaded'
import { looksOf, nearest, shownOf, withinHour, type DueThing } from './dueWords'
import { useJudging } from './judging'
import { now, takeServerTime } from './serverClock'

/** What is due at the bench over all trials, by the server's time, and the looks that are the person's own. */
export const useDue = defineStore('due', () => {
  const judging = useJudging()
  const { data, trouble, load } = useLoaded(ask, [], { isLazy: true })
  const things = computed<DueThing[]>(() => data.value?.things ?? [])
  const timeZone = computed(() => data.value?.time_zone ?? 'UTC')

  async function ask(): Promise<Schemas['Due']> {
    const askedAt = performance.now()
    return askOrKept('due', async () => {
      const found = await body(api.GET('/api/due'))
      takeServerTime(found.now, askedAt, performance.now())
      return found
    })
  }

  /** By the time that each counts towards. */
  const shown = computed(() =>
    [...things.value.map((thing) => shownOf(thing, now.value)), ...looksOf(judging.tasks, now.value)].sort(
      (a, b) => a.moment - b.moment,
    ),
  )
  /** What matters most, if anything matters within the hour. */
  const first = computed(() => nearest(shown.value))
  const flags = computed(() => withinHour(shown.value, now.value).filter((each) => each !== first.value))

  return { things, timeZone, trouble, shown, first, flags, load }
})
