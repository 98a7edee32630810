import type { RouteLocationRaw } from 'vue-router'
import type { Schemas } from '@/api/client'

/** What is due: work at the bench, or looks; of these only what the reader may know. */
export type DueThing = Omit<Schemas['DueThing'], 'what'>
export type DueState = 'coming' | 'open' | 'late'

/** A due thing as it shows at a moment. */
export interface DueShown {
  key: string
  thing: DueThing
  /** Where it is done. */
  to: RouteLocationRaw
  state: DueState
  /** "Wipe K7, R4, T2" */
  what: string
  /** "2:40 left", "in 12:05", "3:10 late" */
  left: string
  /** What it counts towards, ms since 1970. */
  moment: number
}

const HOUR_MS = 3_600_000
const SHORT: Record<DueThing['kind'], string> = {
  work: 'Do',
  abrade: 'Abrade',
  weigh: 'Weigh',
  coat: 'Coat',
  wipe: 'Wipe',
  lay: 'Lay',
  lift: 'Lift',
  act: 'Do',
  look: 'Look at',
  mix: 'Use up',
}
/** Planned work is not called late for this long after its time. */
const GRACE_MS = 60_000

export function verbOf(kind: DueThing['kind']): string {
  return SHORT[kind]
}

/** The first few codes, and how many more. */
export function codesOf(codes: readonly string[], most = 3): string {
  if (codes.length <= most) return codes.join(', ')
  return `${codes.slice(0, most).join(', ')} +${codes.length - most}`
}

/** A length of time: 2:40 under an hour, 1 h 05 under a day, 2 d 3 h beyond. Never negative. */
export function spanOf(ms: number): string {
  const seconds = Math.max(0, Math.floor(ms / 1000))
  const minutes = Math.floor(seconds / 60)
  if (minutes < 60) return `${minutes}:${String(seconds % 60).padStart(2, '0')}`
  const hours = Math.floor(minutes / 60)
  if (hours < 24) return `${hours} h ${String(minutes % 60).padStart(2, '0')}`
  return `${Math.floor(hours / 24)} d ${hours % 24} h`
}

/** Up to the next whole second, so that a countdown ends at 0:00 when the window closes. */
function ahead(ms: number): string {
  return spanOf(Math.ceil(ms / 1000) * 1000)
}

/** How a window, or planned work, stands at a moment. */
export function standOf(
  window: { opens_at: string; closes_at: string | null; aim_at: string; is_window: boolean },
  at: number,
): { state: DueState; left: string; moment: number } {
  const opens = Date.parse(window.opens_at)
  const closes = window.closes_at === null ? null : Date.parse(window.closes_at)
  const aim = Date.parse(window.aim_at)
  if (closes !== null && at >= closes)
    return { state: 'late', left: `${spanOf(at - closes)} late`, moment: closes }
  // An exposure is lifted at its time, and a look has one: the tolerance is no invitation.
  const wanted = aim > opens ? aim : opens
  if (at < wanted)
    return { state: at < opens ? 'coming' : 'open', left: `in ${ahead(wanted - at)}`, moment: wanted }
  if (closes !== null) return { state: 'open', left: `${ahead(closes - at)} left`, moment: closes }
  if (!window.is_window && at > opens + GRACE_MS)
    return { state: 'late', left: `${spanOf(at - opens)} behind`, moment: opens }
  return { state: 'open', left: 'now', moment: opens }
}

/** Exposing has a page of its own; all else is done under Coat and cure. */
const EXPOSING: readonly string[] = ['lay', 'lift', 'act']

export function shownOf(thing: DueThing, at: number): DueShown {
  const stage = EXPOSING.includes(thing.kind) ? 'expose' : 'coat-and-cure'
  const what =
    thing.kind === 'mix'
      ? thing.verb
      : `${thing.kind === 'work' ? thing.verb : verbOf(thing.kind)} ${codesOf(thing.panels)}`
  return {
    key: `${thing.trial_id} ${thing.operation_id ?? ''} ${thing.verb} ${thing.panels.join(' ')}`,
    thing,
    to: {
      path: `/trials/${thing.trial_id}/${stage}`,
      query: thing.operation_id ? { work: String(thing.operation_id) } : {},
    },
    what,
    ...standOf(thing, at),
  }
}

/** Where a look is read. */
export function toRead(task: Schemas['JudgingTask']): RouteLocationRaw {
  return {
    name: 'read',
    params: { trialId: String(task.trial_id), look: task.look.id },
    query: task.by === 'hands' ? { by: 'hands' } : {},
  }
}

/**
 * The looks that have a time: what a person has to read now of each look, and what opens later. Codes and times, and nothing
 * that tells which panels belong together.
 */
export function looksOf(tasks: readonly Schemas['JudgingTask'][], at: number): DueShown[] {
  return tasks.flatMap((task) => {
    const verb = `${task.by === 'hands' ? 'Measure' : 'Look'}: ${task.look.name.toLowerCase()}`
    const about = {
      trial_id: task.trial_id,
      trial_name: task.trial_name,
      operation_id: null,
      kind: 'look' as const,
      verb,
    }
    const shown = (what: string, panels: string[], opens_at: string, closes_at: string | null): DueShown => {
      const thing = { ...about, panels, opens_at, closes_at, aim_at: opens_at, is_window: false }
      const key = `${task.trial_id} ${task.look.id} ${task.by} ${panels.join()} ${opens_at}`
      return { key, thing, to: toRead(task), what, ...standOf(thing, at) }
    }
    const due =
      task.next_panel && task.closes_at
        ? [
            shown(
              `Look at ${task.next_panel} · ${task.n_panels_left} due`,
              [task.next_panel],
              new Date(0).toISOString(),
              task.closes_at,
            ),
          ]
        : []
    return [
      ...due,
      ...task.coming.map((each) => shown(`Look at ${each.code}`, [each.code], each.opens_at, null)),
    ]
  })
}

/** Missed windows first, then open ones that close, then all else. */
function rank(shown: DueShown): number {
  if (shown.state === 'late') return shown.thing.is_window ? 0 : 2
  return shown.state === 'open' && shown.thing.closes_at !== null && shown.left.endsWith('left') ? 1 : 2
}

/** The one to write large: late windows, then what closes first, then what comes within the hour. */
export function nearest(shown: readonly DueShown[]): DueShown | null {
  // A window that was missed stays until somebody does something about it; all else within the hour.
  const urgent = shown.filter(
    (each) => (each.state === 'late' && each.thing.is_window) || !/ [hd] /.test(each.left),
  )
  return urgent.sort((a, b) => rank(a) - rank(b) || a.moment - b.moment)[0] ?? null
}

/** What falls due within the hour to come, soonest first. */
export function withinHour(shown: readonly DueShown[], at: number): DueShown[] {
  return shown
    .filter((each) => each.moment >= at && each.moment < at + HOUR_MS)
    .sort((a, b) => a.moment - b.moment)
}
