import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, body, wordsOf, type Schemas } from '@/api/client'

export type JudgingTask = Schemas['JudgingTask']

/** What there is to grade: feeds the due strip and the Today page. */
export const useJudging = defineStore('judging', () => {
  const tasks = ref<JudgingTask[]>([])
  const trouble = ref('')
  const isLoaded = ref(false)
  const open = computed(() => tasks.value.filter((task) => task.n_panels_left > 0))

  async function load(): Promise<void> {
    try {
      tasks.value = await body(api.GET('/api/judging'))
      trouble.value = ''
      isLoaded.value = true
    } catch (error) {
      trouble.value = wordsOf(error)
    }
  }

  return { tasks, open, trouble, isLoaded, load }
})
