import { computed, ref, watch } from 'vue'
import { api, body, type Schemas } from '@/api/client'
import { askOrKept, keepBeside, keptAnswer } from '@/api/kept'
import { useLoaded } from '@/api/useLoaded'
import { deviceName } from '@/app/device'
import { useEntries, type BenchEntry } from '@/app/entries'
import { serverNow } from '@/app/serverClock'
import {
  countAsked,
  countRead,
  isSpot,
  laidOut,
  measuredWith,
  spotId,
  findAsk,
  nextUnread,
  stepSpot,
  withAsk,
  withEntries,
  withWorkedOut,
  type Arrow,
  type Ask,
  type BlindPanel,
  type BlindSpot,
  type Sitting,
  type SpotPlace,
} from './model'
import type { Measured } from '@/kit/answers/useMeasureTable'
import { valueWords } from '@/kit/responses'
import type { StandingReading } from './standing'

/** Which value at which look an entry is for, wherever the reader has moved on to since. */
export interface Target {
  panel: string
  turn: number
  exposure: string
  place: number
  look: string
  response: string
  view: string
  against: string
}

interface Done extends Target {
  client_id: string
  /** What was kept at once goes back at once. */
  at_once: string
  from: SpotPlace
  before: StandingReading
}

/** One person's sitting: the panels, the value in hand, and what was done in it. */
export function useSitting(
  trialId: () => number,
  look: () => string,
  by: () => Schemas['ReaderEnum'] = () => 'judges',
) {
  const {
    data: sitting,
    trouble,
    load: fetchStanding,
  } = useLoaded<Sitting>(
    async () => {
      const found = await askOrKept(keptName(), async () => {
        const answer = await body(
          api.GET('/api/judging/{trial_id}/looks/{look}', {
            params: { path: { trial_id: trialId(), look: look() }, query: { by: by() } },
          }),
        )
        await keepBeside(`${keptName()} sent`, (sent = []))
        return answer
      })
      // What was sent since it was kept, and what is still on its way, is laid over it.
      sent = (await keptAnswer<BenchEntry[]>(`${keptName()} sent`)) ?? []
      return withEntries(laidOut(found), [...sent, ...queue.waiting])
    },
    [],
    { isLazy: true },
  )
  const keptName = () => `sitting ${trialId()} ${look()} ${by()}`
  let sent: BenchEntry[] = []
  const place = ref<SpotPlace>({ panel: 0, spot: 0, ask: 0 })
  const said = ref('')
  /** What followed from what was measured last, wherever the hands have moved on to since. */
  const justMeasured = ref<{ panel: string; exposure: string; found: Schemas['WorkedOut'][] } | null>(null)
  const done: Done[] = []

  // The server's word stands, unless a later entry for the value is still on its way.
  const queue = useEntries()
  queue.listen((entry, stands) => {
    const isOurs = sitting.value?.trial_id === entry.trial_id && sitting.value.look.id === entry.look
    if (isOurs) {
      sent = [...sent, { ...entry }]
      void keepBeside(`${keptName()} sent`, sent)
    }
    const isOvertaken = queue.waiting.some(
      (other) =>
        other.trial_id === entry.trial_id &&
        other.panel === entry.panel &&
        (other.turn ?? 0) === (entry.turn ?? 0) &&
        isSpot({ exposure: other.exposure, place: other.place ?? 0 }, entry) &&
        other.look === entry.look &&
        other.response === entry.response &&
        other.view === entry.view &&
        other.against === entry.against,
    )
    if (sitting.value && isOurs && !isOvertaken)
      sitting.value = withAsk(sitting.value, entry, {
        value: stands.value,
        is_beyond: stands.is_beyond,
        singles: stands.singles,
        note: stands.note,
      })
    if (sitting.value && isOurs && stands.worked_out.length) {
      sitting.value = withWorkedOut(sitting.value, entry, stands.worked_out)
      justMeasured.value = { panel: entry.panel, exposure: entry.exposure, found: stands.worked_out }
    }
    if (isOurs && stands.elsewhere)
      said.value = `Another device of yours gave ${entry.panel} ${valueWords(entry.response ?? '', stands.elsewhere.value)}; both are kept, ${
        stands.elsewhere.stands ? 'and that one, seen later, stands' : 'and this one, seen later, stands'
      }.`
  })

  const panels = computed(() => sitting.value?.panels ?? [])
  const panel = computed<BlindPanel | undefined>(() => panels.value[place.value.panel])
  const spot = computed<BlindSpot | undefined>(() => panel.value?.spots[place.value.spot])
  const ask = computed<Ask | undefined>(() => spot.value?.asks[place.value.ask])
  const nRead = computed(() => countRead(panels.value))
  const nAsked = computed(() => countAsked(panels.value))

  async function load(): Promise<void> {
    sitting.value = null
    // What is still on its way is laid over what the server says: it must be known first.
    await queue.filled()
    if (!(await fetchStanding()) || !sitting.value) return
    done.length = 0
    place.value = nextUnread(panels.value, { panel: 0, spot: -1, ask: -1 }) ?? { panel: 0, spot: 0, ask: 0 }
  }

  // A refused entry was shown as if it stood: show what does stand. Without an answer the page stays as it is.
  watch(
    () => queue.refused.length,
    (now, before) => now > before && void fetchStanding(),
  )

  /** The value in hand, to be kept while a note for it is written. */
  function target(): Target | null {
    if (!sitting.value || !panel.value || !spot.value || !ask.value) return null
    return {
      panel: panel.value.code,
      turn: panel.value.turn,
      exposure: spot.value.exposure,
      place: spot.value.place,
      look: sitting.value.look.id,
      response: ask.value.response,
      view: ask.value.view,
      against: ask.value.against,
    }
  }

  /** The site's first value, which carries its note. */
  function noteTarget(): Target | null {
    const at = target()
    const first = spot.value?.asks[0]
    return at && first ? { ...at, response: first.response, view: first.view, against: first.against } : null
  }

  /** What stands on a target, or undefined when another look is on the bench. */
  function standing(at: Target): Ask | undefined {
    return sitting.value?.look.id === at.look ? findAsk(sitting.value, at) : undefined
  }

  function enter(
    kind: BenchEntry['kind'],
    at: Target,
    values: Pick<BenchEntry, 'value' | 'is_beyond' | 'singles' | 'note' | 'undoes'>,
    at_once = '',
  ): void {
    if (!sitting.value) return
    const before = standing(at)
    const client_id = crypto.randomUUID()
    if (kind !== 'take_back' && before)
      done.push({
        ...at,
        client_id,
        at_once: at_once || client_id,
        from: { ...place.value },
        before: {
          value: before.value,
          is_beyond: before.is_beyond,
          singles: before.singles ?? [],
          note: before.note,
        },
      })
    queue.add({
      client_id,
      at: new Date(serverNow()).toISOString(),
      device: deviceName.value,
      judge: sitting.value.judge_id,
      trial_id: sitting.value.trial_id,
      ...at,
      kind,
      ...values,
    })
  }

  function put(at: Target, values: StandingReading): void {
    if (sitting.value && standing(at)) sitting.value = withAsk(sitting.value, at, values)
  }

  /** Keep a value and go on to the next that is missing. */
  function answer(value: number, isBeyond = false): void {
    const at = target()
    if (!at || !ask.value) return
    enter('grade', at, { value, ...(isBeyond ? { is_beyond: true } : {}) })
    put(at, { value, is_beyond: isBeyond, note: ask.value.note })
    goOn(at.panel)
  }

  /** Keep what was measured at once, value by value, and go on. */
  function keepMeasured(values: readonly Measured[]): void {
    const first = target()
    if (!first || !spot.value) return
    const together = crypto.randomUUID()
    const asks = measuredWith(spot.value, place.value.ask).map((n) => spot.value?.asks[n])
    asks.forEach((one, n) => {
      const kept = values[n]
      if (!one || !kept) return
      const at = { ...first, response: one.response, view: one.view }
      const { value, singles, isBeyond } = kept
      enter('grade', at, { value, singles, ...(isBeyond ? { is_beyond: true } : {}) }, together)
      put(at, { value, singles, is_beyond: isBeyond, note: one.note })
    })
    goOn(first.panel)
  }

  function goOn(code: string): void {
    const next = nextUnread(panels.value, place.value)
    said.value = next ? '' : 'Every spot at this look is graded.'
    if (next) {
      if (next.panel !== place.value.panel) said.value = `Panel ${code} is done.`
      place.value = next
    }
  }

  /** Keep a note for the site that it was begun on. */
  function note(words: string, at: Target): void {
    const before = standing(at)
    enter('note', at, { note: words })
    put(at, { value: before?.value ?? null, is_beyond: before?.is_beyond ?? false, note: words.trim() })
    said.value = `Note kept for panel ${at.panel}.`
  }

  function takeBack(): void {
    const last = done.pop()
    if (!last || !sitting.value || !findAsk(sitting.value, last)) {
      said.value = 'Nothing of this sitting is left to take back. Grade the spot again to correct it.'
      return
    }
    let undone: Done | undefined = last
    while (undone) {
      const { from, before, client_id, at_once: together, ...at }: Done = undone
      place.value = from
      enter('take_back', at, { undoes: client_id })
      put(at, before)
      undone = done.at(-1)?.at_once === together ? done.pop() : undefined
    }
    said.value = `Taken back on panel ${last.panel}.`
  }

  function move(arrow: Arrow): void {
    if (panel.value) take(stepSpot(panel.value.spots, place.value.spot, arrow))
  }

  function pick(id: string): void {
    take(panel.value?.spots.findIndex((found) => spotId(found) === id) ?? -1)
  }

  /** Take a site in hand, at its first value that is missing. */
  function take(index: number): void {
    const asks = panel.value?.spots[index]?.asks
    if (asks) place.value = { ...place.value, spot: index, ask: firstMissing(asks) }
  }

  function pickAsk(index: number): void {
    if (spot.value?.asks[index]) place.value = { ...place.value, ask: index }
  }

  /** Take a panel in hand, at its first value that is missing. */
  function goTo(index: number): void {
    const spots = panels.value[index]?.spots ?? []
    const open = Math.max(
      0,
      spots.findIndex((found) => found.asks.some((each) => each.value == null)),
    )
    place.value = { panel: index, spot: open, ask: firstMissing(spots[open]?.asks ?? []) }
  }

  function turn(step: number): void {
    const n = panels.value.length
    if (n) goTo((place.value.panel + step + n) % n)
  }

  return {
    sitting,
    place,
    trouble,
    said,
    queue,
    panels,
    panel,
    spot,
    ask,
    nRead,
    nAsked,
    load,
    target,
    noteTarget,
    justMeasured,
    answer,
    keepMeasured,
    note,
    takeBack,
    move,
    pick,
    pickAsk,
    turn,
    goTo,
  }
}

function firstMissing(asks: readonly Ask[]): number {
  return Math.max(
    0,
    asks.findIndex((each) => each.value == null),
  )
}
