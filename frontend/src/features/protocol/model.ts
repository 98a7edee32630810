import type { Schemas } from '@/api/client'
import { words } from '@/api/declared.json'

export type Composed = Schemas['Composed']
export type Draft = Composed['protocol']
export type Test = Draft['tests'][number]
export type Look = NonNullable<Test['looks']>[number]
export type Read = Test['reads'][number]
export type Change = Schemas['ChangeRequest']
export type Library = Schemas['Library']

const MINUTE = 1
const HOUR = 60
const DAY = 1440
/** The rule of time: from six seconds to two years, each tenfold as long as the one before. */
const FROM_MIN = 0.1
const TO_MIN = 730 * DAY
export const TICKS = [
  { min: 0.1, words: '6 s' },
  { min: MINUTE, words: '1 min' },
  { min: 10, words: '10 min' },
  { min: HOUR, words: '1 h' },
  { min: 6 * HOUR, words: '6 h' },
  { min: DAY, words: '1 d' },
  { min: 7 * DAY, words: '1 wk' },
  { min: 30.4 * DAY, words: '1 mo' },
  { min: 365 * DAY, words: '1 y' },
] as const

/** Where a time stands on the rule, 0 to 100. */
export function onRule(minutes: number): number {
  const held = Math.min(Math.max(minutes, FROM_MIN), TO_MIN)
  return (100 * Math.log10(held / FROM_MIN)) / Math.log10(TO_MIN / FROM_MIN)
}

/** The small strokes between two named ticks: 2, 3 … 9 times each power of ten. */
export function fineTicks(): number[] {
  const found: number[] = []
  for (let power = FROM_MIN; power < TO_MIN; power *= 10)
    for (let times = 2; times < 10; times++) if (power * times < TO_MIN) found.push(onRule(power * times))
  return found
}

/** A span of time as a person says it. */
export function spanText(minutes: number): string {
  if (minutes <= 0) return 'at once'
  if (minutes < 1) return `${Math.round(minutes * 60)} s`
  if (minutes < HOUR) return `${Number(minutes.toFixed(1))} min`
  if (minutes < 2 * DAY) return `${Number((minutes / HOUR).toFixed(1))} h`
  if (minutes < 60 * DAY) return `${Number((minutes / DAY).toFixed(1))} d`
  return `${Math.round(minutes / (30.4375 * DAY))} months`
}

/** Where a test stands, and how large: "spot 40 mm", "strip 90 × 20 mm", "half the panel". */
export function siteText(test: Test, mm: (value: number) => string): string {
  const { kind } = test.site
  if (kind === 'spot') return `spot ${mm(test.site.wetted_mm ?? 0)}`
  if (kind === 'strip')
    return `strip ${mm(test.site.length_mm ?? 0)} × ${mm(test.site.width_mm ?? 0)}, ${test.site.grain ?? 'along'} the grain`
  if (kind === 'part') return `${Math.round(100 * (test.site.share ?? 0))} % of the panel`
  return { end: 'end-grain piece', panel: 'whole face', slip: 'slip of glass, no wood' }[kind] ?? kind
}

const ACT_WORDS = words.act as Record<string, string>

/** The act by which a test is made harder or milder: what touches first. */
export function mainAct(test: Test): NonNullable<Test['acts']>[number] | undefined {
  const acts = test.acts ?? []
  const quiet = ['take-in', 'lift', 'wait', 'weigh', 'measure']
  return acts.find((act) => !quiet.includes(act.kind)) ?? acts[0]
}

/** What is done, in a line: "lay, lift and wipe". */
export function actsText(test: Test): string {
  const acts = test.acts ?? []
  if (!acts.length) return 'looked at only'
  return acts.map((act) => (ACT_WORDS[act.kind] ?? act.kind).toLowerCase()).join(' → ')
}

/** What stands for a test's severity: its time, its temperature, how often. */
export function severityText(test: Test, celsius: (value: number) => string): string {
  const act = mainAct(test)
  if (!act) return ''
  return [
    act.temperature_c != null ? celsius(act.temperature_c) : '',
    act.cycles ? `${act.cycles} times` : '',
    act.strokes ? `${act.strokes} strokes` : '',
    act.lasts_min ? spanText(act.lasts_min) : '',
  ]
    .filter(Boolean)
    .join(', ')
}

/** The looks that a test has: its own, else the protocol's. */
export function looksOf(draft: Draft, test: Test): Look[] {
  return test.looks?.length ? test.looks : (draft.looks ?? [])
}

/** Looks to choose from: those of the protocol, its tests' own, and the usual ones after the last act. */
export function lookChoices(draft: Draft, test: Test): Look[] {
  const ends = (test.acts ?? []).some((act) => act.kind === 'lift')
  const usual: Look[] = [
    { id: 'before', name: 'Just before', after_min: 0, after: 'before' },
    ends
      ? { id: 'lifted', name: 'At lifting', after_min: 0 }
      : { id: 'at-once', name: 'At once', after_min: 0 },
    { id: '20min', name: '20 min', after_min: 20 },
    { id: '1h', name: '1 h', after_min: HOUR },
    { id: '24h', name: '24 h', after_min: DAY },
    { id: '3d', name: '3 d', after_min: 3 * DAY },
    { id: '7d', name: '7 d', after_min: 7 * DAY },
  ]
  const own = looksOf(draft, test)
  const found = new Map(own.map((look) => [look.id, look]))
  const moments = new Set(own.map((look) => `${look.after ?? ''} ${look.after_min}`))
  for (const look of [...(draft.looks ?? []), ...usual]) {
    const isPossible = !look.after || ['before', 'bare', 'coated'].includes(look.after)
    const moment = `${look.after ?? ''} ${look.after_min}`
    if (isPossible && !found.has(look.id) && !moments.has(moment)) {
      found.set(look.id, look)
      moments.add(moment)
    }
  }
  return [...found.values()].sort(
    (a, b) => Number(isBefore(b)) - Number(isBefore(a)) || a.after_min - b.after_min,
  )
}
const isBefore = (look: Look) => look.after === 'before' || look.after === 'bare'

/** A look so long after the last act, with an id and a name of its own. */
export function lookAfter(minutes: number): Look {
  const [amount, unit, short] =
    minutes < HOUR
      ? [minutes, 'min', 'min']
      : minutes < 2 * DAY
        ? [minutes / HOUR, 'h', 'h']
        : minutes < 60 * DAY
          ? [minutes / DAY, 'd', 'd']
          : [minutes / (30.4375 * DAY), 'months', 'mo']
  const number = Number(amount.toFixed(2))
  return {
    id: `${String(number).replace('.', '-')}${short}`,
    name: `${number} ${unit}`,
    after_min: Math.round(minutes),
  }
}

function withTest(draft: Draft, id: string, change: (test: Test) => Test): Draft {
  return { ...draft, tests: draft.tests.map((test) => (test.id === id ? change(test) : test)) }
}

/** The draft with a look of one test taken or left; what is read at a look that goes is read at the others. */
export function withLook(draft: Draft, id: string, look: Look, isTaken: boolean): Draft {
  return withTest(draft, id, (test) => {
    const others = looksOf(draft, test).filter((each) => each.id !== look.id)
    const looks = isTaken ? [...others, look] : others
    const kept = new Set(looks.map((each) => each.id))
    return {
      ...test,
      looks,
      reads: test.reads.map((read) => ({
        ...read,
        looks: (read.looks ?? []).filter((each) => kept.has(each)),
      })),
    }
  })
}

/** The draft with what a test reads changed at one place; null takes it out. */
export function withRead(draft: Draft, id: string, response: string, read: Read | null): Draft {
  return withTest(draft, id, (test) => {
    const isKnown = test.reads.some((each) => each.response === response)
    const reads = isKnown
      ? test.reads.flatMap((each) => (each.response !== response ? [each] : read ? [read] : []))
      : read
        ? [...test.reads, read]
        : test.reads
    return { ...test, reads }
  })
}

/** The draft with the main act's amount in other words. */
export function withAmount(draft: Draft, id: string, amount: string): Draft {
  return withTest(draft, id, (test) => {
    const main = mainAct(test)
    return {
      ...test,
      acts: (test.acts ?? []).map((act) => (act === main ? { ...act, amount } : act)),
    }
  })
}

/** The draft with a test by other names. */
export function withNames(draft: Draft, id: string, name: string, shortName: string): Draft {
  return withTest(draft, id, (test) => ({ ...test, name, short_name: shortName }))
}

/** The draft with what happens after a fail on a ladder changed. */
export function withAfterFail(draft: Draft, ladderId: string, afterFail: string): Draft {
  return {
    ...draft,
    ladders: (draft.ladders ?? []).map((ladder) =>
      ladder.id === ladderId ? { ...ladder, after_fail: afterFail as typeof ladder.after_fail } : ladder,
    ),
  }
}

/** Tests of the library that hold every word of what is looked for, and are not in the draft. */
export function findTests(library: Library, draft: Draft, search: string, group: string): Library['tests'] {
  const had = new Set(draft.tests.map((test) => test.id))
  const wanted = search.toLowerCase().split(/\s+/).filter(Boolean)
  return library.tests.filter((test) => {
    const text = `${test.name} ${test.agent} ${test.says} ${test.site}`.toLowerCase()
    return (
      !had.has(test.id) && (!group || test.group === group) && wanted.every((word) => text.includes(word))
    )
  })
}

/** What a line of tests takes: "1 spot", "4 spots" of a ladder, "1 panel" of its own. */
export function takesText(test: Test, hasOwnPanel: boolean, n = 1): string {
  const s = n === 1 ? '' : 's'
  if (hasOwnPanel) return `${n} panel${s}`
  return {
    spot: `${n} spot${s}`,
    strip: `${n} strip${s}`,
    part: n === 1 ? 'a part' : `${n} parts`,
    end: `${n} end${s}`,
    panel: 'looks',
    slip: 'slips',
  }[test.site.kind]
}

/** A line of the draft on the rule of time: a test, or the steps of a ladder from the mildest on. */
export interface Row {
  ladder?: NonNullable<Draft['ladders']>[number]
  steps: [Step, ...Step[]]
}
export interface Step {
  test: Test
  about: Composed['tests'][number]
}

/** The lines, in the order of the draft; a ladder stands where its first step does. */
export function rowsOf(composed: Composed): Row[] {
  const rows: Row[] = []
  const ladders = new Map<string, Row>()
  for (const [index, test] of composed.protocol.tests.entries()) {
    const about = composed.tests[index]
    if (!about) continue
    const known = ladders.get(about.ladder)
    if (known) {
      known.steps.push({ test, about })
      continue
    }
    const ladder = composed.protocol.ladders?.find((each) => each.id === about.ladder)
    const row: Row = { ladder, steps: [{ test, about }] }
    if (ladder) ladders.set(ladder.id, row)
    rows.push(row)
  }
  for (const { ladder, steps } of rows)
    if (ladder) steps.sort((a, b) => ladder.tests.indexOf(a.test.id) - ladder.tests.indexOf(b.test.id))
  return rows
}
