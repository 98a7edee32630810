import { computed, ref, shallowRef, watch } from 'vue'
import { api, body, wordsOf } from '@/api/client'
import { askOrKept } from '@/api/kept'
import { usePhotographQueue, whyNoPhotograph, type Photograph } from '@/app/photographs'
import { serverNow } from '@/app/serverClock'

/** What a photograph that is taken now would be of. */
export interface InView {
  judge: number
  panel: string
  exposure: string
  place: number
  look: string
}

/** The reader's photographs of a trial: those that are kept, and those on their way. */
export function usePhotographs(trialId: () => number) {
  const queue = usePhotographQueue()
  const kept = shallowRef<readonly Photograph[]>([])
  const says = ref('')

  async function load(): Promise<void> {
    const trial = trialId()
    const found = await askOrKept(`photographs ${trial}`, () =>
      body(api.GET('/api/judging/{trial_id}/photographs', { params: { path: { trial_id: trial } } })),
    ).catch(() => [])
    if (trialId() === trial) kept.value = found
  }
  queue.listen((entry, made) => {
    if (entry.trial_id === trialId()) kept.value = [...kept.value.filter((each) => each.id !== made.id), made]
  })
  watch(trialId, load, { immediate: true })

  function take(files: Iterable<File>, of: InView): void {
    says.value = ''
    for (const file of files) {
      const why = whyNoPhotograph(file)
      if (why) {
        says.value = why
        continue
      }
      queue.add({
        client_id: crypto.randomUUID(),
        trial_id: trialId(),
        ...of,
        at: new Date(serverNow()).toISOString(),
        file,
        name: file.name,
      })
    }
  }
  async function withdraw(id: number): Promise<void> {
    try {
      await body(api.DELETE('/api/photographs/{photograph_id}', { params: { path: { photograph_id: id } } }))
      kept.value = kept.value.filter((each) => each.id !== id)
    } catch (error) {
      says.value = wordsOf(error)
    }
  }

  /** Those of one place, at one look or at all. */
  const of = (at: Pick<InView, 'panel' | 'exposure' | 'place'>, look = '') =>
    kept.value.filter(
      (each) =>
        each.panel === at.panel &&
        each.exposure === at.exposure &&
        each.place === at.place &&
        (!look || each.look === look),
    )
  const nWaiting = computed(() => queue.waiting.filter((each) => each.trial_id === trialId()).length)
  const refused = computed(() => queue.refused.filter((each) => each.entry.trial_id === trialId()))

  return { kept, says, take, withdraw, of, nWaiting, refused, forgetRefused: () => queue.forgetRefused() }
}
