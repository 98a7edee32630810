import { defineStore } from 'pinia'
import { computed } from 'vue'
import { api, body, type Schemas } from '@/api/client'
import { askOrKept } from '@/api/kept'
import { useLoaded } from '@/api/useLoaded'

export type JudgingTask = Schemas['JudgingTask']

/** What there is to grade: feeds the due strip and the Today page. */
export const useJudging = defineStore('judging', () => {
  const { data, trouble, load } = useLoaded(
    () => askOrKept('judging', () => body(api.GET('/api/judging'))),
    [],
    { isLazy: true },
  )
  const tasks = computed<JudgingTask[]>(() => data.value ?? [])
  const isLoaded = computed(() => data.value !== null)
  /** What can be read now. */
  const open = computed(() => tasks.value.filter((task) => task.n_panels_left > 0))

  return { tasks, open, trouble, isLoaded, load }
})
