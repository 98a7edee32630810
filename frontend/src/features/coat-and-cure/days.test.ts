import { mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { useSession } from '@/app/session'
import { useWorkEntries, type WorkEntry } from '@/app/workEntries'
import DayLanes from './DayLanes.vue'
import { operation, turn } from './fixtures'
import { axisFor, lanesOf, stretchOf, timesOf, xOf } from './lanes'
import {
  dayWords,
  laterDate,
  momentOf,
  ms,
  nextOperation,
  nextTurn,
  runningTurn,
  stateOf,
  withPending,
  type BenchDay,
} from './model'
import OtherTime from './OtherTime.vue'
import PanelTurns from './PanelTurns.vue'
import { useDesk } from './useDesk'
import WorkCards from './WorkCards.vue'

const DAY: BenchDay = {
  date: '2027-03-02',
  opens_at: '2027-03-02T09:00:00Z',
  closes_at: '2027-03-02T17:00:00Z',
  n_operations: 2,
  n_done: 0,
}
const at = (time: string) => ms(`2027-03-02T${time}Z`)

function entry(more: Partial<WorkEntry>): WorkEntry {
  return {
    trial_id: 1,
    client_id: 'one',
    entry: 'done',
    kind: 'coat',
    item: 'coat 1',
    panels: ['K7'],
    at: '2027-03-02T09:02:00Z',
    ...more,
  } as WorkEntry
}

describe('times and days', () => {
  it('reads the shop’s own dates, whatever the zone of this device', () => {
    expect(dayWords('2027-03-02')).toBe('Tuesday 2 March')
    expect(dayWords('2027-03-02', 'short')).toBe('Tue 2')
    expect(laterDate('2027-02-28', 1)).toBe('2027-03-01')
    expect(laterDate('2027-01-01', -1)).toBe('2026-12-31')
  })
  it('reads a typed time of day on that day', () => {
    expect(momentOf('9:46', DAY, 'UTC')).toBe(at('09:46:00'))
    expect(momentOf('09:46:20', DAY, 'UTC')).toBe(at('09:46:20'))
    // Nine in the shop's zone is its opening there.
    const tokyo = { ...DAY, opens_at: '2027-03-02T00:00:00Z' }
    expect(momentOf('9:46', tokyo, 'Asia/Tokyo')).toBe(at('00:46:00'))
    for (const text of ['25:00', '9', 'nine', '']) expect(momentOf(text, DAY, 'UTC')).toBeNull()
  })
})

describe('the state of an operation', () => {
  it('follows its panels and the clock', () => {
    expect(stateOf(operation(), at('08:00:00'))).toBe('to-come')
    expect(stateOf(operation(), at('08:57:00'))).toBe('due')
    expect(stateOf(operation(), at('09:02:00'))).toBe('behind')
    const begun = operation({ turns: [turn('K7', { begun_at: DAY.opens_at }), turn('T2')] })
    expect(stateOf(begun, at('12:00:00'))).toBe('running')
    expect(runningTurn(begun)?.code).toBe('K7')
    expect(nextTurn(begun)?.code).toBe('T2')
    const over = { begun_at: DAY.opens_at, ended_at: DAY.opens_at }
    expect(stateOf(operation({ turns: [turn('K7', over)] }), 0)).toBe('done')
    const given = { ...over, skipped_because: 'split' }
    expect(stateOf(operation({ turns: [turn('K7', given)] }), 0)).toBe('skipped')
  })
  it('is behind when a window has closed, before its planned time too', () => {
    const closed = operation({ turns: [turn('K7', { closes_at: '2027-03-02T08:30:00Z' })] })
    expect(stateOf(closed, at('08:31:00'))).toBe('behind')
  })
  it('takes what is under way before what comes first', () => {
    const second = operation({ id: 2, turns: [turn('R4', { begun_at: DAY.opens_at })] })
    expect(nextOperation([operation(), second])?.id).toBe(2)
    expect(nextOperation([operation()])?.id).toBe(1)
  })
})

describe('what this browser has not sent yet', () => {
  it('shows at once, and its wipe-off counts', () => {
    const wipe = operation({ id: 2, kind: 'wipe', wipe_after_min: null })
    const pending = [entry({ entry: 'begin', at: '2027-03-02T09:00:00Z' }), entry({ client_id: 'two' })]
    const [coated, wiping] = withPending([operation(), wipe], pending)
    expect(coated?.turns[0]).toMatchObject({
      begun_at: '2027-03-02T09:00:00.000Z',
      ended_at: '2027-03-02T09:02:00Z',
    })
    expect(coated?.n_done).toBe(1)
    expect(wiping?.turns[0]).toMatchObject({
      opens_at: '2027-03-02T09:17:00.000Z',
      closes_at: '2027-03-02T09:42:00.000Z',
    })
    expect(wiping?.turns[1]?.opens_at).toBeNull()
  })
  it('is as if it had not been once it is taken back here', () => {
    const pending = [
      entry({ entry: 'begin' }),
      entry({ client_id: 'two' }),
      entry({ client_id: 'three', entry: 'take_back', undoes: 'two' }),
    ]
    const [coated] = withPending([operation()], pending)
    expect(coated?.turns[0]).toMatchObject({ begun_at: '2027-03-02T09:02:00Z', ended_at: null })
  })
  it('is nobody’s but the work’s own', () => {
    const [coated] = withPending(
      [operation()],
      [entry({ item: 'coat 2' }), entry({ client_id: 'b', nth: 2 })],
    )
    expect(coated?.n_done).toBe(0)
  })
})

describe('the lanes', () => {
  const axis = axisFor('day', [DAY], at('12:00:00'), 800, 'UTC')
  it('lay a day on its width', () => {
    expect(xOf(axis, at('09:00:00'))).toBe(0)
    expect(xOf(axis, at('13:00:00'))).toBe(400)
    expect(xOf(axis, at('18:00:00'))).toBeNull()
    expect(axis.ticks.filter((tick) => tick.isMajor).map((tick) => tick.label)).toContain('13:00')
    // Where hours lie close, every other one is named.
    const narrow = axisFor('day', [DAY], 0, 240, 'UTC').ticks.flatMap((tick) =>
      tick.label ? [tick.label] : [],
    )
    expect(narrow).toEqual(['9:00', '11:00', '13:00', '15:00', '17:00'])
  })
  it('lay a week’s days side by side and leave the nights out', () => {
    const next = {
      ...DAY,
      date: '2027-03-03',
      opens_at: '2027-03-03T09:00:00Z',
      closes_at: '2027-03-03T17:00:00Z',
    }
    const week = axisFor('week', [DAY, next], 0, 810, 'UTC')
    expect(week.segments.map((each) => [each.x0, each.x1])).toEqual([
      [0, 400],
      [410, 810],
    ])
    expect(xOf(week, at('22:00:00'))).toBeNull()
    expect(week.ticks.map((tick) => tick.label)).toEqual(['Tue 2', 'Wed 3'])
  })
  it('show a stretch around a moment to the second', () => {
    const near = axisFor('minutes', [DAY], at('10:00:00'), 600, 'UTC')
    const [segment] = near.segments
    expect((segment?.to ?? 0) - (segment?.from ?? 0)).toBe(600_000)
    // Ten seconds are ten pixels; a block that sticks out is cut.
    expect(stretchOf(near, at('10:00:00'), at('10:00:10'))?.width).toBeCloseTo(10)
    expect(stretchOf(near, at('08:00:00'), at('09:57:00'))?.x).toBe(0)
    expect(stretchOf(near, at('08:00:00'), at('09:00:00'))).toBeNull()
  })
  it('put no block on another, and no word on a block', () => {
    const many = Array.from({ length: 12 }, (_, n) =>
      operation({
        id: n,
        start_at: new Date(at('09:00:00') + n * 300_000).toISOString(),
        end_at: new Date(at('09:04:00') + n * 300_000).toISOString(),
      }),
    )
    const [lane] = lanesOf(many, [{ id: 1, name: 'Nell' }], axis, 'day')
    expect(lane?.blocks.flatMap((block) => block.together)).toHaveLength(12)
    expect(lane?.nRows).toBeLessThanOrEqual(4)
    for (const block of lane?.blocks ?? []) {
      const reach = block.x + block.width + (block.label ? block.label.length * 6.7 : 0)
      const covered = lane?.blocks.filter(
        (other) => other !== block && other.row === block.row && other.x < reach,
      )
      expect(covered?.every((other) => other.x + other.width <= block.x)).toBe(true)
    }
  })
  it('read fifty marks as a few: what is alike and near goes together, done apart from what is to do', () => {
    const many = Array.from({ length: 50 }, (_, n) => {
      const start = at('09:00:00') + n * 120_000
      const ended = {
        begun_at: new Date(start).toISOString(),
        ended_at: new Date(start + 60_000).toISOString(),
      }
      return operation({
        id: n,
        kind: n % 2 ? 'lift' : 'lay',
        item: 'wine-1h',
        start_at: new Date(start).toISOString(),
        end_at: new Date(start + 60_000).toISOString(),
        turns: [turn('K7', n < 10 ? ended : {})],
      })
    })
    const [lane] = lanesOf(many, [{ id: 1, name: 'Nell' }], axis, 'day')
    expect(lane?.blocks.map((block) => [block.label, block.together.length])).toEqual([
      ['lay ×5', 5],
      ['lift ×5', 5],
      ['lay ×20', 20],
      ['lift ×20', 20],
    ])
    // None is lost, a press takes up what is still to do, and each is labelled.
    expect(new Set(lane?.blocks.flatMap((block) => block.together.map((each) => each.id))).size).toBe(50)
    expect(lane?.blocks[2]?.operation.id).toBe(10)
    // Nearer to, each stands alone.
    const close = axisFor('minutes', [DAY], at('09:30:00'), 600, 'UTC')
    const [near] = lanesOf(many, [{ id: 1, name: 'Nell' }], close, 'minutes')
    expect(near?.blocks.every((block) => block.together.length === 1)).toBe(true)
  })
  it('give hands that work no more a lane for what they did', () => {
    const lanes = lanesOf(
      [operation({ hands_id: 9, hands: 'Old hand' })],
      [{ id: 1, name: 'Nell' }],
      axis,
      'day',
    )
    expect(lanes.map((lane) => [lane.name, lane.blocks.length])).toEqual([
      ['Nell', 0],
      ['Old hand', 1],
    ])
  })
  it('draw work as it went, not as it was planned', () => {
    const late = { begun_at: '2027-03-02T10:00:00Z', ended_at: '2027-03-02T10:07:00Z' }
    expect(timesOf(operation({ turns: [turn('K7', late)] }))).toEqual({
      from: at('10:00:00'),
      to: at('10:07:00'),
    })
  })
  it('are pressed to take work in hand, and say what they are', async () => {
    const drawn = mount(DayLanes, {
      props: {
        operations: [operation()],
        hands: [{ id: 1, name: 'Nell' }],
        days: [DAY],
        zoom: 'day',
        at: at('09:00:00'),
        now: at('09:30:00'),
        zone: 'UTC',
        selected: 1,
      },
    })
    expect(drawn.find('title').text()).toBe('Coat 1, K7, T2, 9:00 to 9:04, behind')
    expect(drawn.find('.now').text()).toBe('now 9:30')
    await drawn.find('.block').trigger('click')
    expect(drawn.emitted('pick')).toEqual([[1]])
  })
})

describe('cards and panels', () => {
  it('count the window that closes first', () => {
    const window = { opens_at: '2027-03-02T09:17:00Z', aim_at: '2027-03-02T09:17:00Z' }
    const wipe = operation({
      kind: 'wipe',
      turns: [
        turn('K7', { ...window, closes_at: '2027-03-02T09:42:00Z' }),
        turn('T2', { ...window, closes_at: '2027-03-02T09:44:00Z' }),
      ],
    })
    const show = (now: number) =>
      mount(WorkCards, { props: { operations: [wipe], selected: 1, now, zone: 'UTC', showsHands: false } })
    expect(show(at('09:10:00')).text()).toContain('in 7:00')
    expect(show(at('09:40:00')).text()).toContain('2:00 left')
    expect(show(at('09:43:30')).find('.late').text()).toBe('1:30 late')
  })
  it('tell what a panel took and why it is doubtful', () => {
    const panels = mount(PanelTurns, {
      props: {
        operation: operation(),
        now: at('09:00:00'),
        zone: 'UTC',
        hasBalance: false,
        applied: [
          {
            build_up_id: 3,
            build_up: 'Marrowby Tung',
            item: 'coat 1',
            expected_g_per_m2: 90,
            panels: [
              {
                panel: 'K7',
                g_per_m2: 180,
                stands_out: [
                  {
                    text: 'K7 took 180 g/m², the others about 90.',
                    quantity: null,
                    value: null,
                    is_bare: false,
                  },
                ],
              },
            ],
          },
        ],
      },
    })
    expect(panels.find('.took .late').text()).toContain('180')
    expect(panels.find('[role=alert]').text()).toContain('the others about 90')
  })
  it('take work written down afterwards only with times that can be', async () => {
    const form = mount(OtherTime, {
      props: { operation: operation(), day: DAY, zone: 'UTC', now: at('10:00:00') },
    })
    const [begun, ended] = form.findAll('input')
    await begun?.setValue('9:30')
    await ended?.setValue('9:20')
    expect(form.text()).toContain('It ended before it began.')
    await ended?.setValue('11:00')
    expect(form.text()).toContain('That has not come yet.')
    await ended?.setValue('9:36:30')
    await form.trigger('submit')
    expect(form.emitted('done')).toEqual([[at('09:30:00'), at('09:36:30')]])
  })
})

describe('the desk', () => {
  beforeEach(() => {
    localStorage.clear()
    setActivePinia(createPinia())
    vi.stubGlobal(
      'fetch',
      vi.fn(async () => {
        throw new TypeError('cut')
      }),
    )
    useSession().person = {
      id: 3,
      username: 'nell',
      display_name: 'Nell',
      role: 'owner',
      shop: 'Tarn Yard',
      currency: '€',
      keeps_key: true,
    }
  })
  const sent = () => useWorkEntries().waiting.map((each) => [each.entry, each.panels.join(' ')])

  it('goes from panel to panel with one key', () => {
    const own = useDesk(() => 1)
    own.goOn(operation())
    own.goOn(operation({ turns: [turn('K7', { begun_at: DAY.opens_at }), turn('T2')] }))
    own.goOn(
      operation({ turns: [turn('K7', { ended_at: DAY.opens_at }), turn('T2', { begun_at: DAY.opens_at })] }),
    )
    expect(sent()).toEqual([
      ['begin', 'K7'],
      ['done', 'K7'],
      ['begin', 'T2'],
      ['done', 'T2'],
    ])
    const [, done, begun] = useWorkEntries().waiting
    expect(done?.at).toBe(begun?.at)
  })
  it('ends what is left, and nothing that is done', () => {
    const own = useDesk(() => 1)
    own.finish(operation({ turns: [turn('K7', { ended_at: DAY.opens_at }), turn('T2')] }))
    own.skip(operation(), 'rain')
    expect(sent()).toEqual([
      ['done', 'T2'],
      ['skip', 'K7 T2'],
    ])
  })
  it('takes back what is still here, once, else what the server has', () => {
    const own = useDesk(() => 1)
    own.finish(operation())
    const queue = useWorkEntries()
    expect(own.takeBack(operation())).toBe(true)
    expect(queue.waiting.at(-1)?.undoes).toBe(queue.waiting[0]?.client_id)
    expect(own.takeBack(operation())).toBe(false)
    expect(own.takeBack(operation({ last_entry: 'server-side' }))).toBe(true)
    expect(queue.waiting.at(-1)?.undoes).toBe('server-side')
  })
  it('weighs one panel at a time as work of its own', () => {
    useDesk(() => 1).weigh(operation(), 'K7', 2, 701.5)
    expect(useWorkEntries().waiting[0]).toMatchObject({
      kind: 'weigh',
      item: 'coat 1',
      nth: 2,
      panels: ['K7'],
      measured: { weight_g: 701.5 },
    })
  })
})
