import { useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, body, wordsOf, type Schemas } from '@/api/client'
import { askOrKept, keepBeside } from '@/api/kept'
import { useLoaded } from '@/api/useLoaded'
import { deviceName } from '@/app/device'
import { useEntries } from '@/app/entries'
import { useNotYetShown } from '@/app/notYetShown'
import { now, serverNow, takeServerTime } from '@/app/serverClock'
import { useSession } from '@/app/session'
import { useWorkEntries } from '@/app/workEntries'
import {
  freeOf,
  lyingOf,
  nextStep,
  siteKey,
  sitesOf,
  stepOf,
  type Expose,
  type Observation,
  type Step,
} from './model'

/** What was done on another device shows here after this long at the latest. */
const LOOK_EVERY_MS = 15_000

interface Done {
  client_id: string
  step: Step
}

/** An observation that is asked for, after the act that it comes with. */
export interface Watching {
  panel: string
  test: string
  place: number
  observation: Observation
  prompt: Schemas['Prompt']
  /** When the act before ended: what a watch counts from. */
  since: number | null
}

/** The sitting in hand: what this browser has yet to send laid over what the server says, and what can be pressed. */
export function useExpose(trialId: () => number) {
  const queue = useWorkEntries()
  const readings = useEntries()
  const unseen = useNotYetShown(queue, trialId)
  const session = useSession()
  const route = useRoute()
  const meeting = ref('')
  const chosen = ref('')
  const said = ref('')
  const isPaused = useLocalStorage(() => `nublet.paused.${trialId()}`, false)
  /** When something that is watched was over, such as a drop that soaked in, by site. */
  const stopped = useLocalStorage<Record<string, number>>(() => `nublet.watch.${trialId()}`, {})
  const done: Done[] = []
  const asked = ref<Watching[]>([])
  const { data: view, trouble, load } = useLoaded(ask, [], { isLazy: true })

  async function ask(): Promise<Expose> {
    const askedAt = performance.now()
    const query = meeting.value ? { meeting: meeting.value } : { work: Number(route.query.work) || undefined }
    const shows = unseen.asking()
    return askOrKept(`expose ${trialId()} ${meeting.value}`, async () => {
      const found = await body(
        api.GET('/api/trials/{trial_id}/expose', { params: { path: { trial_id: trialId() }, query } }),
      )
      takeServerTime(found.now, askedAt, performance.now())
      shows()
      // A page that opens without a server asks for no sitting in particular: it is to find the last that was seen.
      if (meeting.value) void keepBeside(`expose ${trialId()} `, found)
      return found
    })
  }

  const pending = computed(() => queue.waiting.filter((entry) => entry.trial_id === trialId()))
  const sites = computed(() => (view.value ? sitesOf(view.value, unseen.entries.value) : []))
  const lying = computed(() => lyingOf(sites.value))
  const free = computed(() => (view.value ? freeOf(view.value, sites.value) : []))
  const inHand = computed<Step | null>(() => {
    const own = sites.value.find((site) => siteKey(site) === chosen.value)
    return (own && stepOf(own)) || nextStep(lying.value, free.value, now.value, isPaused.value)
  })
  const watching = computed(() => asked.value[0] ?? null)

  watch(
    [trialId, meeting],
    () => {
      // What was asked without a sitting has been answered with one.
      if (!meeting.value || meeting.value !== view.value?.meeting) void load()
    },
    { immediate: true },
  )
  // The due strip may lead to another sitting while this one is open.
  watch(
    () => route.query.work,
    () => ([meeting.value, chosen.value] = ['', '']),
  )
  watch(view, (found) => (meeting.value ||= found?.meeting ?? ''))
  useIntervalFn(() => pending.value.length === 0 && void load(), LOOK_EVERY_MS)
  queue.listen((entry) => {
    if (entry.trial_id === trialId() && pending.value.length === 0) void load()
  })

  function enter(step: Step, entry: Schemas['WorkEntryKindEnum'], more: object = {}): string {
    const client_id = crypto.randomUUID()
    queue.add({
      trial_id: trialId(),
      client_id,
      entry,
      kind: step.act.kind,
      item: step.site.test.id,
      look_after_min: 0,
      nth: 1,
      act: step.act.act,
      panels: [step.site.panel],
      at: new Date(serverNow()).toISOString(),
      hands: hands.value,
      ...more,
    })
    return client_id
  }

  const hands = computed(() => {
    const found = view.value?.hands ?? []
    return (found.find((each) => each.name === session.person?.display_name) ?? found[0])?.id ?? null
  })

  /** Stamp the act in hand: it is done now. */
  function finish(step: Step, measured: Record<string, number> = {}): void {
    done.push({ client_id: enter(step, 'done', { measured }), step })
    chosen.value = ''
    said.value = `${step.act.verb}: ${step.site.test.short_name} on ${step.site.panel}.`
    asked.value = [...asked.value, ...observationsOf(step)]
  }

  function skip(step: Step, reason: string): void {
    done.push({ client_id: enter(step, 'skip', { reason }), step })
    chosen.value = ''
    said.value = `Skipped: ${step.site.test.short_name} on ${step.site.panel}.`
  }

  function takeBack(): void {
    const last = done.pop()
    if (!last) {
      said.value =
        'Nothing of this sitting is left to take back. The log under Coat and cure takes back more.'
      return
    }
    enter(last.step, 'take_back', { undoes: last.client_id })
    asked.value = asked.value.filter((each) => siteKey(each) !== siteKey(last.step.site))
    chosen.value = siteKey(last.step.site)
    said.value = `Taken back: ${last.step.site.test.short_name} on ${last.step.site.panel}.`
  }

  /** What is read with an act, prompt by prompt; a judge's own only where the person is one. */
  function observationsOf(step: Step): Watching[] {
    const panel = view.value?.panels.find((each) => each.code === step.site.panel)
    const spots = panel?.spots.filter((spot) => spot.exposure === step.site.test.id) ?? []
    return step.act.observations
      .filter((each) => each.by === 'hands' || view.value?.is_judge)
      .flatMap((observation) =>
        spots.flatMap((spot) =>
          observation.prompts.map((prompt) => ({
            panel: step.site.panel,
            test: step.site.test.id,
            place: spot.place,
            observation,
            prompt,
            since: step.site.since,
          })),
        ),
      )
  }

  function observe(value: number, isBeyond: boolean): void {
    const each = asked.value[0]
    if (!each) return
    readings.add({
      client_id: crypto.randomUUID(),
      judge: session.person?.id,
      trial_id: trialId(),
      panel: each.panel,
      exposure: each.test,
      place: each.place,
      look: each.observation.look,
      response: each.prompt.response,
      view: each.prompt.view,
      kind: 'grade',
      value,
      ...(isBeyond ? { is_beyond: true } : {}),
      at: new Date(serverNow()).toISOString(),
      device: deviceName.value,
    })
    asked.value = asked.value.slice(1)
  }
  /** Leave an observation for later: it stays due under Read. */
  function observeLater(): void {
    asked.value = asked.value.slice(1)
  }
  function stopWatch(step: Step): void {
    stopped.value = { ...stopped.value, [siteKey(step.site)]: serverNow() }
  }

  function take(key: string): void {
    chosen.value = key
  }
  function goTo(id: string): void {
    meeting.value = id
    chosen.value = ''
  }

  /** Leave a test out on a panel, let it count again, or repeat it on a spare place; what went wrong in words. */
  async function decide(wants: Schemas['SpotWentWrongRequest']): Promise<string> {
    try {
      await body(
        api.POST('/api/trials/{trial_id}/days/spots', {
          params: { path: { trial_id: trialId() } },
          body: wants,
        }),
      )
      chosen.value = ''
      await load()
      return ''
    } catch (error) {
      return wordsOf(error)
    }
  }

  return {
    view,
    trouble,
    load,
    queue,
    sites,
    lying,
    free,
    inHand,
    watching,
    stopped,
    isPaused,
    said,
    finish,
    skip,
    takeBack,
    observe,
    observeLater,
    stopWatch,
    take,
    goTo,
    decide,
  }
}
