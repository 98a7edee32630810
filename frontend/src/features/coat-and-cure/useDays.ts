import { useIntervalFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, body, wordsOf, type Schemas } from '@/api/client'
import { askOrKept, keepBeside } from '@/api/kept'
import { useLoaded } from '@/api/useLoaded'
import { useDue } from '@/app/due'
import { useNotYetShown } from '@/app/notYetShown'
import { takeServerTime } from '@/app/serverClock'
import { useWorkEntries } from '@/app/workEntries'
import { laterDate, withPending, type Days } from './model'

const JOB_EVERY_MS = 1000
/** What was done on another device shows here after this long at the latest. */
const LOOK_EVERY_MS = 15_000

/** A trial's bench days: the ones that show, what this browser has yet to send, and the plan that is being made. */
export function useDays(trialId: () => number) {
  const first = ref('')
  const nDays = ref(1)
  const queue = useWorkEntries()
  const unseen = useNotYetShown(queue, trialId)
  const due = useDue()
  const route = useRoute()
  const { data: days, trouble, load, overtake } = useLoaded(ask, [], { isLazy: true })

  async function ask(): Promise<Days> {
    const askedAt = performance.now()
    const query = first.value
      ? { first: first.value, last: laterDate(first.value, nDays.value - 1) }
      : { work: Number(route.query.work) || undefined, n_days: nDays.value }
    const shows = unseen.asking()
    return askOrKept(`days ${trialId()} ${first.value}`, async () => {
      const found = await body(
        api.GET('/api/trials/{trial_id}/days', { params: { path: { trial_id: trialId() }, query } }),
      )
      takeServerTime(found.now, askedAt, performance.now())
      shows()
      // A page that opens without a server asks for no day in particular: it is to find the last that was seen.
      if (first.value) void keepBeside(`days ${trialId()} `, found)
      return found
    })
  }

  watch(days, (found, before) => {
    if (!found) return
    first.value ||= found.focus
    if (before?.job?.state !== 'running' || found.job?.state === 'running') return
    void due.load()
    // The new plan may have nothing on the day that shows: then the day that it begins with.
    if (found.days.length && !found.operations.length) first.value = ''
  })

  /** Ask for a plan, or stop one; what went wrong in words, or an empty text. */
  async function change(request: () => Promise<Days>): Promise<string> {
    overtake()
    try {
      await request()
      await load()
      return ''
    } catch (error) {
      return wordsOf(error)
    }
  }
  const path = () => ({ trial_id: trialId() })
  const plan = (asked: Schemas['AskForPlanRequest']) =>
    change(() =>
      body(api.POST('/api/trials/{trial_id}/days/plan', { params: { path: path() }, body: asked })),
    )
  const stop = () =>
    change(() => body(api.DELETE('/api/trials/{trial_id}/days/plan', { params: { path: path() } })))

  const pending = computed(() => queue.waiting.filter((entry) => entry.trial_id === trialId()))
  const operations = computed(() => withPending(days.value?.operations ?? [], unseen.entries.value))
  const isMaking = computed(() => days.value?.job?.state === 'running' && !days.value.job.is_silent)

  const poll = useIntervalFn(load, JOB_EVERY_MS, { immediate: false })
  useIntervalFn(() => {
    if (days.value && !isMaking.value && pending.value.length === 0) void load()
  }, LOOK_EVERY_MS)
  watch(isMaking, (making) => (making ? poll.resume() : poll.pause()))
  watch(
    () => ({ trial: trialId(), first: first.value, n: nDays.value }),
    (now, was) => {
      // The answer that told which day matters holds that day already.
      const isAnswered =
        was?.first === '' && was.trial === now.trial && was.n === now.n && now.first === days.value?.focus
      if (!isAnswered) void load()
    },
    { immediate: true },
  )
  queue.listen((entry) => {
    if (entry.trial_id === trialId() && pending.value.length === 0) void load()
  })

  return { days, operations, pending, trouble, first, nDays, isMaking, queue, load, plan, stop }
}
