import type { Schemas } from '@/api/client'
import type { WorkEntry } from '@/app/workEntries'

export type Expose = Schemas['Expose']
export type ExposedTest = Schemas['ExposedTest']
export type ActStep = Schemas['ActStep']
export type Meeting = Schemas['Meeting']
export type ExposedPanel = Schemas['ExposedPanel']
export type Observation = Schemas['Observation']

/** A test on a panel, and how far it is with what this browser has yet to send. Moments in ms since 1970. */
export interface Site {
  panel: string
  test: ExposedTest
  /** In order, as they are planned on this panel: mends take their own time, and bare wood is not mended. */
  acts: readonly ActStep[]
  nDone: number
  /** When the last of its acts ended, where that is known. */
  since: number | null
  readyAt: number | null
}

/** The next act of a site, and when it may be done. */
export interface Step {
  site: Site
  act: ActStep
  opens: number | null
  aim: number | null
  closes: number | null
}

export function siteKey(site: { panel: string; test: { id: string } | string }): string {
  return `${site.panel}|${typeof site.test === 'string' ? site.test : site.test.id}`
}

/** The sites as they stand with the entries that are still on their way. */
export function sitesOf(view: Expose, pending: readonly WorkEntry[]): Site[] {
  const tests = new Map(view.tests.map((test) => [test.id, test]))
  const undone = new Set(
    pending.flatMap((entry) => (entry.entry === 'take_back' && entry.undoes ? [entry.undoes] : [])),
  )
  const live = pending.filter((entry) => !undone.has(entry.client_id))
  const here = new Set(pending.map((entry) => entry.client_id))
  return view.sites.flatMap((sent) => {
    const test = tests.get(sent.test)
    const acts = test?.ways[sent.way]
    if (!test || !acts) return []
    const site: Site = {
      panel: sent.panel,
      test,
      acts,
      nDone: sent.n_done,
      since: sent.since_at === null ? null : Date.parse(sent.since_at),
      readyAt: sent.ready_at === null ? null : Date.parse(sent.ready_at),
    }
    for (const entry of live) {
      if (entry.item !== sent.test || !entry.panels.includes(sent.panel)) continue
      const nth = acts.findIndex((act) => act.kind === entry.kind && act.act === (entry.act ?? ''))
      if (nth < 0) continue
      if (entry.entry === 'done') {
        if (nth + 1 >= site.nDone) [site.nDone, site.since] = [nth + 1, Date.parse(entry.at)]
      } else if (entry.entry === 'skip') {
        // What was never laid is not lifted; of other acts those after it are done all the same, and what is read is spoiled.
        ;[site.nDone, site.since] =
          entry.kind === 'lay' ? [acts.length, null] : [nth + 1, Date.parse(entry.at)]
      } else if (entry.entry === 'take_back' && !here.has(entry.undoes ?? '')) {
        ;[site.nDone, site.since] = [Math.min(site.nDone, nth), null]
      }
    }
    return [site]
  })
}

export function stepOf(site: Site): Step | null {
  const act = site.acts[site.nDone]
  if (!act) return null
  if (site.nDone === 0 || site.since === null) return { site, act, opens: null, aim: null, closes: null }
  const at = (minutes: number) => (site.since ?? 0) + 60_000 * minutes
  return {
    site,
    act,
    opens: at(act.opens_min),
    aim: at(act.aim_min),
    closes: act.closes_min === null ? null : at(act.closes_min),
  }
}

/** What was begun and is not over, what is wanted first at the head; what may wait for ever last. */
export function lyingOf(sites: readonly Site[]): Step[] {
  return sites
    .filter((site) => site.nDone > 0)
    .flatMap((site) => stepOf(site) ?? [])
    .sort((a, b) => urgency(a) - urgency(b))
}

function urgency(step: Step): number {
  return step.closes === null ? Number.MAX_SAFE_INTEGER : (step.aim ?? 0)
}

/** What is to be begun, in the order in which the core has laid it out; what it does not know comes last. */
export function freeOf(view: Expose, sites: readonly Site[]): Step[] {
  const meeting = view.meetings.find((each) => each.id === view.meeting)
  const order = new Map(
    view.steps.filter((step) => step.nth === 0).map((step, n) => [siteKey({ ...step }), n] as const),
  )
  const place = (site: Site) =>
    order.get(siteKey(site)) ?? order.size + (meeting?.panels.indexOf(site.panel) ?? 0)
  return sites
    .filter(
      (site) => site.nDone === 0 && site.test.id === meeting?.test && meeting.panels.includes(site.panel),
    )
    .sort((a, b) => place(a) - place(b))
    .flatMap((site) => stepOf(site) ?? [])
}

/**
 * What is to be done next: what lies and is wanted by now; else the next to be begun, unless something would close while that is
 * done; else what is wanted next. While the sitting is paused nothing is begun.
 */
export function nextStep(
  lying: readonly Step[],
  free: readonly Step[],
  now: number,
  isPaused: boolean,
): Step | null {
  const timed = lying.filter((step) => step.closes !== null)
  const wanted = timed.filter((step) => (step.aim ?? 0) <= now)
  const [urgent] = wanted.sort((a, b) => (a.closes ?? 0) - (b.closes ?? 0))
  if (urgent) return urgent
  const [first] = free
  const [soonest] = timed
  if (first && !isPaused) {
    const ends = now + 60_000 * first.act.minutes
    const isKept = !soonest || (soonest.closes ?? 0) >= ends
    return isKept ? first : soonest
  }
  const open = lying.find((step) => step.closes === null && (step.opens ?? 0) <= now)
  if (open && !isPaused) return open
  return soonest ?? lying[0] ?? null
}

/** How far a block is off, in words, and whether that is more than is allowed. */
export function blockOff(
  act: ActStep,
  blockC: number | null,
  toleranceC: number,
): { isOff: boolean; by: number } {
  const by = act.block_c === null || blockC === null ? 0 : blockC - act.block_c
  return { isOff: Math.abs(by) > toleranceC + 1e-9, by }
}

/** Which sitting of how many it is, in the order of the plan, and how many are over. */
export function meetingPlace(view: Expose): { nth: number; n: number } {
  return { nth: view.meetings.findIndex((each) => each.id === view.meeting) + 1, n: view.meetings.length }
}

/** "Beech 1 meets wine, 1 h", or how many panels where each goes as it is ready. */
export function meetingWords(meeting: Meeting, test: ExposedTest | undefined): string {
  const who = meeting.shared || `${meeting.panels.length} ${meeting.panels.length === 1 ? 'panel' : 'panels'}`
  const meets = meeting.shared || meeting.panels.length === 1 ? 'meets' : 'meet'
  return `${who} ${meets} ${test?.short_name.toLowerCase() ?? meeting.test}`
}

/** What the one large key stands under: "Lay coffee on P6", "Lift wine 1 h from P6". */
export function stepWords(step: Step): string {
  const { act, site } = step
  if (act.kind === 'lift' || act.verb === 'Lifted') return `${act.words} from ${site.panel}`
  return act.words.includes(':') ? `${act.words} · ${site.panel}` : `${act.words} on ${site.panel}`
}
