import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Schemas } from '@/api/client'
import { iso, router } from './fixtures'
import type { Days } from './model'
import PlanAgain from './PlanAgain.vue'
import PlanJob from './PlanJob.vue'
import PlanStart from './PlanStart.vue'

const BESIDE: Schemas['TrialBeside'] = {
  trial_id: 7,
  trial_name: 'Galley boards',
  is_planned: true,
  has_begun: false,
  is_companion: false,
}
const global = { plugins: [router()] }

beforeEach(() => {
  setActivePinia(createPinia())
})

describe('a plan', () => {
  const job = (more: Partial<Schemas['PlanJob']> = {}): Schemas['PlanJob'] => ({
    state: 'running',
    is_again: false,
    is_stop_asked: false,
    is_silent: false,
    is_waiting: false,
    elapsed_s: 4,
    progress: [],
    trouble: '',
    reasons: [],
    mends: [],
    ...more,
  })
  const show = (more: Partial<Schemas['PlanJob']>) =>
    mount(PlanJob, { global, props: { job: job(more), zone: 'UTC', isBusy: false } })

  it('tries by one press what would mend it', async () => {
    const shown = show({
      state: 'impossible',
      reasons: ['A, wine: its look never falls within working hours.', 'B: nothing helps.'],
      mends: [['working until 19:55 instead of 17:30', 'working also on Friday instead of 4 days'], []],
    })
    const [first, second, ...others] = shown.findAll('.mends button')
    expect(first?.text()).toBe('Try working until 19:55 instead of 17:30')
    expect(others).toHaveLength(0)
    await second?.trigger('click')
    expect(shown.emitted('mend')).toEqual([['working also on Friday instead of 4 days']])
  })
  it('shows the best so far and can be stopped once there is one', async () => {
    expect(show({}).find('button').attributes('disabled')).toBeDefined()
    const shown = show({ progress: [{ elapsed_s: 2.6, end_at: iso(600), n_sittings: 21 }] })
    expect(shown.text()).toContain(
      'last work on Tue 2 March, 19:00, 21 sittings at the bench, found after 3 s',
    )
    await shown.find('button').trigger('click')
    expect(shown.emitted('stop')).toHaveLength(1)
  })
  it('is made again with the trials that it was planned together with, or others, or alone', async () => {
    const trials = [
      { ...BESIDE, is_companion: true },
      { ...BESIDE, trial_id: 9, trial_name: 'Bench' },
    ]
    const shown = mount(PlanAgain, { global, props: { trials, isBusy: false } })
    const key = () => shown.find('.press-main').text()
    expect(key()).toBe('Plan 2 trials from now')
    const [one, two] = shown.findAll('input')
    await two?.setValue(true)
    await shown.find('form').trigger('submit')
    await one?.setValue(false)
    await two?.setValue(false)
    expect(key()).toBe('Plan this one from now')
    await shown.find('form').trigger('submit')
    expect(shown.emitted('plan')).toEqual([[[7, 9]], [[]]])
  })
  it('says why there is none', () => {
    const shown = show({ state: 'impossible', reasons: ['The wipe-off window is too short.'] })
    expect(shown.find('h2').text()).toBe('There is no such plan')
    expect(shown.find('li').text()).toBe('The wipe-off window is too short.')
    expect(show({ is_silent: true }).text()).toContain('has not been heard of')
    expect(show({ state: 'failed', trouble: 'The planner failed.' }).text()).toContain('The planner failed.')
  })
  it('is asked for with its start, and refused in the server’s words', async () => {
    const send = vi.fn(async () => 'Nobody works at the bench yet.')
    const days = {
      is_designed: true,
      hands: [{ id: 1, name: 'Nell' }],
      time_zone: 'UTC',
      beside: [BESIDE],
    } as unknown as Days
    const form = mount(PlanStart, { global, props: { days, trialId: 1, send } })
    await form.find('#plan-from').setValue('2027-03-01T09:00')
    await form.find('#plan-rest').setValue('a day')
    expect((form.find('#plan-rest').element as HTMLInputElement).validationMessage).toContain('Give a number')
    await form.find('#plan-rest').setValue('24')
    await form.find('.beside input').setValue(true)
    await form.find('form').trigger('submit')
    await flushPromises()
    expect(send).toHaveBeenCalledWith({
      start: '2027-03-01T09:00',
      weighs: true,
      prepares: true,
      condition_h: 24,
      again: false,
      mend: '',
      together_with: [7],
    })
    expect(form.find('[role=alert]').text()).toBe('Nobody works at the bench yet.')
  })
  it('needs panels and hands first', () => {
    const show = (days: Partial<Days>) =>
      mount(PlanStart, { global, props: { days: days as Days, trialId: 1, send: vi.fn() } }).text()
    expect(show({ is_designed: false, hands: [] })).toContain('A plan needs panels.')
    expect(show({ is_designed: true, hands: [] })).toContain('Nobody works at the bench yet.')
  })
})
