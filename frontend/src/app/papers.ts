import { useStorage, type RemovableRef } from '@vueuse/core'
import { onScopeDispose, ref } from 'vue'
import { api, body, Problem, readProblem, wordsOf, type Schemas } from '@/api/client'

export type Job = Schemas['Job']
export type PaperSize = Schemas['PaperEnum']

/** The paper that this browser's printer has. */
export function keptPaper(): RemovableRef<PaperSize> {
  return useStorage<PaperSize>('nublet.paper', 'a4')
}

const FIRST_LOOK_MS = 250
const MOST_BETWEEN_MS = 1_500
const FORGET_ADDRESS_MS = 60_000

/** Hand a file to the browser as a download. */
async function save(job: Job): Promise<void> {
  const answer = await fetch(`/api/jobs/${job.id}/file`)
  if (!answer.ok) throw await readProblem(answer)
  const named = /filename="([^"]+)"/.exec(answer.headers.get('Content-Disposition') ?? '')
  const link = document.createElement('a')
  link.href = URL.createObjectURL(await answer.blob())
  link.download = named?.[1] ?? 'paper'
  link.click()
  window.setTimeout(() => URL.revokeObjectURL(link.href), FORGET_ADDRESS_MS)
}

/** A paper that is made outside the request: asked for, followed, stopped, and saved when it is ready. */
export function usePaper() {
  const job = ref<Job | null>(null)
  const isAsking = ref(false)
  const trouble = ref('')
  let isGone = false
  onScopeDispose(() => (isGone = true))

  const look = (id: number): Promise<Job> =>
    body(api.GET('/api/jobs/{job_id}', { params: { path: { job_id: id } } }))

  /** Look again, less and less often, until it has ended. A cut network is waited out. */
  async function follow(asked: Job): Promise<void> {
    job.value = asked
    let wait = FIRST_LOOK_MS
    while (!isGone && (job.value.state === 'waiting' || job.value.state === 'running')) {
      await new Promise((resolve) => setTimeout(resolve, wait))
      wait = Math.min(wait * 1.3, MOST_BETWEEN_MS)
      try {
        job.value = await look(asked.id)
      } catch (error) {
        if (!(error instanceof Problem) || !error.isOffline) throw error
      }
    }
  }

  /** Ask for a paper and save it. */
  async function make(ask: () => Promise<Job>): Promise<void> {
    isAsking.value = true
    trouble.value = ''
    try {
      await follow(await ask())
      if (isGone || !job.value) return
      if (job.value.state === 'done') await save(job.value)
      else if (job.value.state === 'failed') trouble.value = job.value.trouble
    } catch (error) {
      trouble.value = wordsOf(error)
    } finally {
      isAsking.value = false
      job.value = null
    }
  }

  async function stop(): Promise<void> {
    if (!job.value) return
    try {
      const path = { job_id: job.value.id }
      job.value = await body(api.DELETE('/api/jobs/{job_id}', { params: { path } }))
    } catch (error) {
      trouble.value = wordsOf(error)
    }
  }

  return { job, isAsking, trouble, make, stop }
}
