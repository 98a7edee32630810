import type { Schemas } from '@/api/client'
import type { WorkEntry } from '@/app/workEntries'
import { clockOf } from '@/kit/clock'
import { standingWork } from './standing'

export { clockOf }

export type Days = Schemas['Days']
export type Operation = Schemas['Operation']
export type Turn = Schemas['PanelTurn']
export type BenchDay = Schemas['BenchDay']
export type OperationState = 'to-come' | 'due' | 'running' | 'behind' | 'done' | 'skipped'

export const STATE_WORDS: Record<OperationState, string> = {
  'to-come': 'to come',
  due: 'due',
  running: 'under way',
  behind: 'behind',
  done: 'done',
  skipped: 'skipped',
}
/** Work counts as due this long before its time. */
const DUE_BEFORE_MS = 5 * 60_000
const BEHIND_AFTER_MS = 60_000

export function ms(moment: string): number {
  return Date.parse(moment)
}

/** "Tuesday 2 March"; the date is the shop's own, so that no zone moves it. */
export function dayWords(date: string, style: 'long' | 'short' = 'long'): string {
  const [year = 2000, month = 1, day = 1] = date.split('-').map(Number)
  return new Date(Date.UTC(year, month - 1, day)).toLocaleDateString('en-GB', {
    timeZone: 'UTC',
    weekday: style,
    day: 'numeric',
    ...(style === 'long' ? { month: 'long' } : {}),
  })
}

/** The date so many days later. */
export function laterDate(date: string, days: number): string {
  const [year = 2000, month = 1, day = 1] = date.split('-').map(Number)
  return new Date(Date.UTC(year, month - 1, day + days)).toISOString().slice(0, 10)
}

/** The plan in a line: whose hands, until when, and what was missed so far. */
export function planWords(days: Days, plan: Schemas['StandingPlan'], nDeviations = 0): string {
  const hands = days.hands.length
  const last = new Date(plan.last_work_at).toLocaleDateString('en-GB', {
    timeZone: days.time_zone,
    day: 'numeric',
    month: 'long',
  })
  const missed = days.missed.filter((each) => each.judgement !== 'usable').length
  const windows = missed
    ? `${missed} ${missed === 1 ? 'window' : 'windows'} missed`
    : nDeviations
      ? `no window missed in this plan, ${nDeviations} ${nDeviations === 1 ? 'deviation' : 'deviations'} recorded`
      : 'every window held so far'
  return `${hands} ${hands === 1 ? 'pair' : 'pairs'} of hands · last look ${last} · ${windows}`
}

export function isDone(turn: Turn): boolean {
  return turn.ended_at !== null
}

/** The panel that is being worked on, if any. */
export function runningTurn(operation: Operation): Turn | undefined {
  return operation.turns.find((turn) => turn.begun_at !== null && turn.ended_at === null)
}

/** The panel whose turn comes next: none is left when all are done. */
export function nextTurn(operation: Operation): Turn | undefined {
  return operation.turns.find((turn) => turn.begun_at === null && turn.ended_at === null)
}

/** The window that some panels share: it opens with the first of them and closes with the first. */
export function windowOf(turns: readonly Turn[]) {
  const open = turns.filter((turn) => turn.opens_at !== null)
  const first = (moments: (string | null)[]) =>
    moments.flatMap((each) => (each ? [each] : [])).sort(byTime)[0]
  const opens_at = first(open.map((turn) => turn.opens_at))
  if (!opens_at) return null
  return {
    opens_at,
    closes_at: first(open.map((turn) => turn.closes_at)) ?? null,
    aim_at: first(open.map((turn) => turn.aim_at)) ?? opens_at,
    is_window: true,
  }
}

function byTime(a: string, b: string): number {
  return ms(a) - ms(b)
}

export function stateOf(operation: Operation, at: number): OperationState {
  if (operation.turns.every(isDone))
    return operation.turns.every((turn) => turn.skipped_because) ? 'skipped' : 'done'
  if (operation.turns.some((turn) => turn.begun_at !== null)) return 'running'
  const closes = operation.turns.flatMap((turn) => (turn.closes_at ? [ms(turn.closes_at)] : []))
  if (closes.some((moment) => at > moment) || at > ms(operation.start_at) + BEHIND_AFTER_MS) return 'behind'
  return at >= ms(operation.start_at) - DUE_BEFORE_MS ? 'due' : 'to-come'
}

/** The operation to take in hand: one under way, else the first that is not done. */
export function nextOperation(operations: readonly Operation[]): Operation | undefined {
  return operations.find((each) => runningTurn(each)) ?? operations.find((each) => !each.turns.every(isDone))
}

/** Which work an entry or an operation is about. */
export function workOf(work: {
  kind: string
  item: string
  look_after_min?: number
  nth?: number
  act?: string
}): string {
  return `${work.kind} ${work.item} ${work.look_after_min ?? 0} ${work.nth ?? 1} ${work.act ?? ''}`.trim()
}

/**
 * Operations as they stand with what this browser has entered and the server has not answered yet: what was done without
 * a network shows at once, and its wipe-off window counts down.
 */
export function withPending(operations: readonly Operation[], pending: readonly WorkEntry[]): Operation[] {
  if (!pending.length) return [...operations]
  const stood = operations.map((operation) => {
    const own = pending.filter((entry) => workOf(entry) === workOf(operation))
    const standing = standingWork(own, new Map(operation.turns.map((turn) => [turn.code, turn])))
    const turns = operation.turns.map((turn) => ({ ...turn, ...standing.get(turn.code) }))
    return { ...operation, turns: turns.filter((turn) => !isEvenHere(operation, turn, pending)) }
  })
  const wipes = wipeWindows(stood, pending)
  return stood.map((operation) => {
    const turns = operation.turns.map((turn) => {
      const window = operation.kind === 'wipe' ? wipes.get(`${operation.item} ${turn.code}`) : undefined
      return window && !turn.opens_at ? { ...turn, ...window } : turn
    })
    return { ...operation, turns, n_done: turns.filter(isDone).length }
  })
}

/** Whether an abrading falls away because its panel was said here to be even. */
function isEvenHere(operation: Operation, turn: Turn, pending: readonly WorkEntry[]): boolean {
  if (operation.kind !== 'abrade') return false
  const coat = workOf({ ...operation, kind: 'coat' })
  const own = pending.filter((entry) => workOf(entry) === coat)
  return standingWork(own).get(turn.code)?.is_even ?? false
}

/** The windows in which what was coated here, and the server does not know yet, is to be wiped off. */
function wipeWindows(stood: readonly Operation[], pending: readonly WorkEntry[]) {
  const found = new Map<string, Pick<Turn, 'opens_at' | 'closes_at' | 'aim_at'>>()
  const here = new Set(pending.flatMap((entry) => (entry.kind === 'coat' ? entry.panels : [])))
  for (const coat of stood) {
    const [from, to] = coat.wipe_after_min ?? []
    if (coat.kind !== 'coat' || from === undefined || to === undefined) continue
    for (const turn of coat.turns) {
      if (!here.has(turn.code) || turn.ended_at === null || turn.skipped_because) continue
      const opens_at = new Date(ms(turn.ended_at) + from * 60_000).toISOString()
      const closes_at = new Date(ms(turn.ended_at) + to * 60_000).toISOString()
      found.set(`${coat.item} ${turn.code}`, { opens_at, closes_at, aim_at: opens_at })
    }
  }
  return found
}

/** A time of day typed as 9:46 or 09:46:20 on a day of the shop, ms since 1970; null when it is none. */
export function momentOf(text: string, day: BenchDay, zone: string): number | null {
  const found = /^([01]?\d|2[0-3]):([0-5]\d)(?::([0-5]\d))?$/.exec(text.trim())
  if (!found) return null
  const [hours, minutes, seconds] = [found[1], found[2], found[3]].map((part) => Number(part ?? 0))
  // By what the day's opening reads in the shop's zone, so that no zone table is needed here.
  const opens = ms(day.opens_at)
  const [openHours = 0, openMinutes = 0] = clockOf(opens, zone).split(':').map(Number)
  return (
    opens + (((hours ?? 0) - openHours) * 3600 + ((minutes ?? 0) - openMinutes) * 60 + (seconds ?? 0)) * 1000
  )
}
