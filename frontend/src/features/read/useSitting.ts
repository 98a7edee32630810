import { computed, ref, watch } from 'vue'
import { api, body } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useEntries, type BenchEntry } from '@/app/entries'
import {
  countGraded,
  isSpot,
  spotId,
  findSpot,
  nextUngraded,
  stepSpot,
  withEntries,
  withSpot,
  type Arrow,
  type BlindPanel,
  type BlindSpot,
  type Sitting,
  type SpotPlace,
} from './model'

/** Which spot at which look an entry is for, wherever the judge has moved on to since. */
export interface Target {
  panel: string
  exposure: string
  place: number
  look: string
}

interface Done extends Target {
  from: SpotPlace
  before: { grade: number | null; note: string }
}

/** One judge's sitting: the panels, the spot in hand, and what was done in it. */
export function useSitting(trialId: () => number, look: () => string) {
  const {
    data: sitting,
    trouble,
    load: fetchStanding,
  } = useLoaded<Sitting>(
    async () =>
      withEntries(
        await body(
          api.GET('/api/judging/{trial_id}/looks/{look}', {
            params: { path: { trial_id: trialId(), look: look() } },
          }),
        ),
        // What is still on its way is laid over it.
        queue.waiting,
      ),
    [],
    { isLazy: true },
  )
  const place = ref<SpotPlace>({ panel: 0, spot: 0 })
  const said = ref('')
  const done: Done[] = []

  // The server's word stands, unless a later entry for the spot is still on its way.
  const queue = useEntries()
  queue.listen((entry, stands) => {
    const isOurs = sitting.value?.trial_id === entry.trial_id && sitting.value.look.id === entry.look
    const isOvertaken = queue.waiting.some(
      (other) =>
        other.trial_id === entry.trial_id &&
        other.panel === entry.panel &&
        isSpot({ exposure: other.exposure, place: other.place ?? 0 }, entry) &&
        other.look === entry.look,
    )
    if (sitting.value && isOurs && !isOvertaken)
      sitting.value = withSpot(sitting.value, entry, {
        grade: stands.grade,
        note: stands.note,
      })
  })

  const panels = computed(() => sitting.value?.panels ?? [])
  const panel = computed<BlindPanel | undefined>(() => panels.value[place.value.panel])
  const spot = computed<BlindSpot | undefined>(() => panel.value?.spots[place.value.spot])
  const nGraded = computed(() => countGraded(panels.value))
  const nSpots = computed(() => panels.value.reduce((sum, found) => sum + found.spots.length, 0))

  async function load(): Promise<void> {
    sitting.value = null
    if (!(await fetchStanding()) || !sitting.value) return
    done.length = 0
    place.value = nextUngraded(panels.value, { panel: 0, spot: -1 }) ?? { panel: 0, spot: 0 }
  }

  // A refused entry was shown as if it stood: show what does stand. Without an answer the page stays as it is.
  watch(
    () => queue.refused.length,
    (now, before) => now > before && void fetchStanding(),
  )

  /** The spot in hand, to be kept while a note for it is written. */
  function target(): Target | null {
    if (!sitting.value || !panel.value || !spot.value) return null
    return {
      panel: panel.value.code,
      exposure: spot.value.exposure,
      place: spot.value.place,
      look: sitting.value.look.id,
    }
  }

  /** What stands on a target's spot, or undefined when another look is on the bench. */
  function standing(at: Target): BlindSpot | undefined {
    if (sitting.value?.look.id !== at.look) return undefined
    return findSpot(sitting.value, at)
  }

  function enter(kind: BenchEntry['kind'], at: Target, values: { grade?: number; note?: string }): void {
    if (!sitting.value) return
    const before = standing(at)
    if (kind !== 'take_back' && before)
      done.push({ ...at, from: { ...place.value }, before: { grade: before.grade, note: before.note } })
    queue.add({
      client_id: crypto.randomUUID(),
      judge: sitting.value.judge_id,
      trial_id: sitting.value.trial_id,
      ...at,
      kind,
      ...values,
    })
  }

  function put(at: Target, values: { grade: number | null; note: string }): void {
    if (sitting.value && standing(at)) sitting.value = withSpot(sitting.value, at, values)
  }

  function grade(value: number): void {
    const at = target()
    if (!at || !spot.value) return
    enter('grade', at, { grade: value })
    put(at, { grade: value, note: spot.value.note })
    const code = at.panel
    const next = nextUngraded(panels.value, place.value)
    said.value = next ? '' : 'Every spot at this look is graded.'
    if (next) {
      if (next.panel !== place.value.panel) said.value = `Panel ${code} is done.`
      place.value = next
    }
  }

  /** Keep a note for the spot that it was begun on. */
  function note(words: string, at: Target): void {
    const before = standing(at)
    enter('note', at, { note: words })
    put(at, { grade: before?.grade ?? null, note: words.trim() })
    said.value = `Note kept for panel ${at.panel}.`
  }

  function takeBack(): void {
    const last = done.pop()
    if (!last || !sitting.value || !findSpot(sitting.value, last)) {
      said.value = 'Nothing of this sitting is left to take back. Grade the spot again to correct it.'
      return
    }
    const at = { panel: last.panel, exposure: last.exposure, place: last.place, look: last.look }
    place.value = last.from
    enter('take_back', at, {})
    put(at, last.before)
    said.value = `Taken back on panel ${last.panel}.`
  }

  function move(arrow: Arrow): void {
    if (panel.value)
      place.value = { ...place.value, spot: stepSpot(panel.value.spots, place.value.spot, arrow) }
  }

  function pick(id: string): void {
    const at = panel.value?.spots.findIndex((found) => spotId(found) === id) ?? -1
    if (at >= 0) place.value = { ...place.value, spot: at }
  }

  /** Take a panel in hand, at its first spot without a grade. */
  function goTo(index: number): void {
    const spots = panels.value[index]?.spots ?? []
    place.value = {
      panel: index,
      spot: Math.max(
        0,
        spots.findIndex((found) => found.grade == null),
      ),
    }
  }

  function turn(by: number): void {
    const n = panels.value.length
    if (n) goTo((place.value.panel + by + n) % n)
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
    nGraded,
    nSpots,
    load,
    target,
    grade,
    note,
    takeBack,
    move,
    pick,
    turn,
    goTo,
  }
}
