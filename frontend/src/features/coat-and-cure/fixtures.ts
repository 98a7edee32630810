import { createMemoryHistory, createRouter } from 'vue-router'
import type { Operation, Turn } from './model'

/** When the day of these tests begins, and so many minutes after it. */
export const NINE = Date.parse('2027-03-02T09:00:00Z')
export const iso = (minutes: number) => new Date(NINE + minutes * 60_000).toISOString()

/** The ways that this stage's parts lead on. */
export const router = () =>
  createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/trials/:trialId/read/:look?', name: 'read', component: { template: '<p />' } },
      { path: '/:rest(.*)*', component: { template: '<p />' } },
    ],
  })

/** A pass of two panels, and their turns, for the tests of this stage. */
export function turn(code: string, more: Partial<Turn> = {}): Turn {
  return {
    code,
    start_at: '2027-03-02T09:00:00Z',
    end_at: '2027-03-02T09:02:00Z',
    begun_at: null,
    ended_at: null,
    skipped_because: '',
    is_even: false,
    opens_at: null,
    closes_at: null,
    aim_at: null,
    weight_before_g: null,
    weight_after_g: null,
    ...more,
  }
}
export function operation(more: Partial<Operation> = {}): Operation {
  return {
    id: 1,
    hands_id: 1,
    hands: 'Nell Arkwright-Osei',
    build_up_id: 3,
    build_up: 'Marrowby Tung',
    board: '',
    kind: 'coat',
    item: 'coat 1',
    look_after_min: 0,
    nth: 1,
    act: '',
    look: '',
    start_at: '2027-03-02T09:00:00Z',
    end_at: '2027-03-02T09:04:00Z',
    what: 'Coat 1',
    short: more.kind && more.kind !== 'coat' ? more.kind : (more.item ?? 'coat 1'),
    product: 'Marrowby Tung',
    is_hot: false,
    cautions: [],
    amounts: [],
    cup: null,
    pot_life_min: null,
    n_done: 0,
    temperature_c: null,
    humidity_pct: null,
    block_c: null,
    mix: null,
    note: '',
    until_even: false,
    agent: '',
    pour: null,
    batches: [],
    wipe_after_min: [15, 40],
    last_entry: null,
    turns: [turn('K7'), turn('T2')],
    ...more,
  }
}
