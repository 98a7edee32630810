import { clockOf, dayWords, ms, type BenchDay, type Operation } from './model'

export const ZOOMS = [
  { id: 'week', name: 'Week', spanMs: 0, minorMs: 0, majorMs: 0 },
  { id: 'day', name: 'Day', spanMs: 0, minorMs: 30 * 60_000, majorMs: 60 * 60_000 },
  { id: 'hours', name: '3 hours', spanMs: 3 * 3_600_000, minorMs: 5 * 60_000, majorMs: 30 * 60_000 },
  { id: 'hour', name: 'Hour', spanMs: 3_600_000, minorMs: 60_000, majorMs: 10 * 60_000 },
  { id: 'minutes', name: '10 minutes', spanMs: 10 * 60_000, minorMs: 10_000, majorMs: 60_000 },
] as const
export type Zoom = (typeof ZOOMS)[number]['id']

/** A stretch of time on a stretch of the axis, px. */
export interface Segment {
  from: number
  to: number
  x0: number
  x1: number
}
export interface Tick {
  x: number
  label: string
  isMajor: boolean
}
export interface Axis {
  segments: Segment[]
  ticks: Tick[]
}
/** One piece of work, or several of a kind that lie so near each other that each alone could not be read. */
export interface Block {
  operation: Operation
  together: readonly Operation[]
  x: number
  width: number
  row: number
  label: string
}
export interface Lane {
  id: number
  name: string
  blocks: Block[]
  nRows: number
}

const GAP_PX = 10
const LEAST_PX = 3
/** Room for a time of day. */
const TIME_PX = 48
const LETTER_PX = 6.7
const BETWEEN_PX = 10
const MAX_ROWS = 4
const MAX_ROWS_TOGETHER = 7
/** Where not every piece of work has room for its words, what is alike and nearer than so many px goes together. */
const NEAR_PX = 40

/** The axis of a zoom: the days side by side for a week, the day's lanes for a day, else a stretch around a moment. */
export function axisFor(
  zoom: Zoom,
  days: readonly BenchDay[],
  at: number,
  width: number,
  zone: string,
): Axis {
  const kind = ZOOMS.find((each) => each.id === zoom) ?? ZOOMS[1]
  if (zoom === 'week') {
    const share = (width - GAP_PX * (days.length - 1)) / Math.max(1, days.length)
    const segments = days.map((day, number) => {
      const x0 = number * (share + GAP_PX)
      return { from: ms(day.opens_at), to: ms(day.closes_at), x0, x1: x0 + share }
    })
    const ticks = days.map((day, number) => ({
      x: segments[number]?.x0 ?? 0,
      label: dayWords(day.date, 'short'),
      isMajor: true,
    }))
    return { segments, ticks }
  }
  const [day] = days
  if (!day) return { segments: [], ticks: [] }
  const from = kind.spanMs ? at - kind.spanMs / 3 : ms(day.opens_at)
  const to = kind.spanMs ? from + kind.spanMs : ms(day.closes_at)
  const segment = { from, to, x0: 0, x1: width }
  const ticks: Tick[] = []
  let worded = -Infinity
  for (let moment = Math.ceil(from / kind.minorMs) * kind.minorMs; moment <= to; moment += kind.minorMs) {
    const isMajor = moment % kind.majorMs === 0
    const x = place(segment, moment)
    const isWorded = isMajor && x - worded >= TIME_PX
    if (isWorded) worded = x
    ticks.push({ x, label: isWorded ? clockOf(moment, zone) : '', isMajor })
  }
  return { segments: [segment], ticks }
}

function place(segment: Segment, moment: number): number {
  return segment.x0 + ((moment - segment.from) / (segment.to - segment.from)) * (segment.x1 - segment.x0)
}

/** Where a moment lies on the axis, px; null where the axis does not reach. */
export function xOf(axis: Axis, moment: number): number | null {
  const segment = axis.segments.find((each) => moment >= each.from && moment <= each.to)
  return segment ? place(segment, moment) : null
}

/** The stretch of an operation that shows, px; null when none does. */
export function stretchOf(axis: Axis, from: number, to: number): { x: number; width: number } | null {
  for (const segment of axis.segments) {
    const a = Math.max(from, segment.from)
    const b = Math.min(to, segment.to)
    if (a > b) continue
    const x = place(segment, a)
    return { x, width: Math.max(LEAST_PX, place(segment, b) - x) }
  }
  return null
}

/** When an operation was or will be worked on: as it went where it was begun, else as planned. */
export function timesOf(operation: Operation): { from: number; to: number } {
  const begun = operation.turns.flatMap((turn) => (turn.begun_at ? [ms(turn.begun_at)] : []))
  const ended = operation.turns.flatMap((turn) => (turn.ended_at ? [ms(turn.ended_at)] : []))
  const length = ms(operation.end_at) - ms(operation.start_at)
  const from = begun.length ? Math.min(...begun) : ms(operation.start_at)
  const isOver = operation.turns.every((turn) => turn.ended_at)
  return { from, to: isOver && ended.length ? Math.max(from, ...ended) : from + length }
}

function isOver(operation: Operation): boolean {
  return operation.turns.every((turn) => turn.ended_at)
}

/** What goes together: the same kind of work, done or not, with no longer a pause than reads as one. */
function gather(operations: readonly Operation[], axis: Axis): Operation[][] {
  const open = new Map<string, { members: Operation[]; end: number }>()
  const found: Operation[][] = []
  for (const each of [...operations].sort((a, b) => timesOf(a).from - timesOf(b).from)) {
    const { from, to } = timesOf(each)
    const stretch = stretchOf(axis, from, to)
    if (!stretch) continue
    const key = `${each.kind} ${each.is_hot} ${isOver(each)}`
    const last = open.get(key)
    if (last && stretch.x - last.end <= NEAR_PX) {
      last.members.push(each)
      last.end = Math.max(last.end, stretch.x + stretch.width)
    } else {
      const members = [each]
      found.push(members)
      open.set(key, { members, end: stretch.x + stretch.width })
    }
  }
  return found
}

function labelOf(together: readonly Operation[]): string {
  const [operation] = together
  if (!operation) return ''
  if (together.length > 1) {
    const names = new Set(together.map((each) => each.short))
    const kind = operation.kind === 'work' ? 'prepare' : operation.kind
    return `${names.size === 1 ? operation.short : kind} ×${together.length}`
  }
  const codes = operation.turns.map((turn) => turn.code)
  const shown = codes.length > 2 ? `${codes[0]}–${codes.at(-1)}` : codes.join(' ')
  return `${operation.short} ${shown}`
}

/** Each pair of hands with its blocks, in rows in which no block and no label writes over another. */
export function lanesOf(
  operations: readonly Operation[],
  hands: readonly { id: number; name: string }[],
  axis: Axis,
  zoom: Zoom,
): Lane[] {
  const known = new Map(hands.map((each) => [each.id, each.name]))
  for (const operation of operations)
    if (!known.has(operation.hands_id)) known.set(operation.hands_id, operation.hands)
  return [...known].map(([id, name]) => {
    const own = operations.filter((each) => each.hands_id === id)
    const each = layOut(
      own.map((operation) => [operation]),
      axis,
      zoom,
    )
    const isRead = zoom === 'week' || each.blocks.every((block) => block.label)
    return { id, name, ...(isRead ? each : layOut(gather(own, axis), axis, zoom, MAX_ROWS_TOGETHER)) }
  })
}

/** Blocks in rows, with words where there is room for them. */
function layOut(
  groups: readonly Operation[][],
  axis: Axis,
  zoom: Zoom,
  maxRows = MAX_ROWS,
): Pick<Lane, 'blocks' | 'nRows'> {
  const ends: number[] = []
  const blocks: Block[] = []
  for (const together of groups) {
    const times = together.map(timesOf)
    const from = Math.min(...times.map((each) => each.from))
    const stretch = stretchOf(axis, from, Math.max(...times.map((each) => each.to)))
    // What is still to be done is what a press on it takes up.
    const operation = together.find((each) => !isOver(each)) ?? together[0]
    if (!stretch || !operation) continue
    const label = zoom === 'week' ? '' : labelOf(together)
    const free = ends.findIndex((end) => end + 2 <= stretch.x)
    const row = zoom === 'week' ? 0 : free >= 0 ? free : ends.length < maxRows ? ends.length : shortest(ends)
    ends[row] = Math.max(ends[row] ?? 0, stretch.x + stretch.width + widthOf(label))
    blocks.push({ operation, together, ...stretch, row, label })
  }
  for (const block of blocks) {
    const end = block.x + block.width + widthOf(block.label)
    const isCovered = blocks.some(
      (other) =>
        other !== block && other.row === block.row && other.x < end && other.x + other.width > block.x,
    )
    if (isCovered || end > (axis.segments.at(-1)?.x1 ?? 0) + BETWEEN_PX) block.label = ''
  }
  return { blocks, nRows: Math.max(1, ends.length) }
}

function widthOf(label: string): number {
  return label ? label.length * LETTER_PX + BETWEEN_PX : 1
}

function shortest(ends: readonly number[]): number {
  return ends.indexOf(Math.min(...ends))
}
