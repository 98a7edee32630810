import { mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import { setUnits } from '@/kit/units'
import BenchLog from './BenchLog.vue'
import { iso, router } from './fixtures'

const global = { plugins: [router()] }

beforeEach(() => {
  setActivePinia(createPinia())
})

describe('the log', () => {
  it('puts what spoiled a panel first and shows no more than the newest', async () => {
    setUnits([{ quantity: 'celsius', metric: '°C', us: '°F', factor: 1.8, offset: 32 }])
    const work = (panel: string): Schemas['LoggedWork'] => ({
      panel,
      what: 'Coat 1',
      kind: 'coat',
      begun_at: iso(0),
      ended_at: iso(2),
      skipped_because: '',
      is_even: false,
      hands: 'Nell Arkwright-Osei',
      mix: 'FH-1',
      pour: '',
      temperature_c: 19.5,
      humidity_pct: 52,
      block_c: null,
      weight_g: null,
    })
    const missed = (panel: string, judgement: Schemas['Missed']['judgement']): Schemas['Missed'] => ({
      panel,
      key: 'late-wipe coat 1',
      judgement,
      says: [{ text: `${panel}, coat 1: wiped off too late.`, quantity: null, value: null, is_bare: false }],
      reason: '',
      exposure: '',
    })
    const log = mount(BenchLog, {
      global,
      props: {
        log: {
          applied: [],
          taken: [
            {
              build_up_id: 3,
              build_up: 'Marrowby Tung',
              layer: {
                product: 'Marrowby Tung',
                most: 4,
                panels: [
                  { panel: 'K7', n_coats: 2, is_even: true },
                  { panel: 'T2', n_coats: 4, is_even: false },
                ],
              },
            },
          ],
          works: Array.from({ length: 30 }, (_, n) => work(`P${n}`)),
          missed: [missed('K7', 'usable'), missed('T2', 'spoiled'), missed('R4', 'deviation')],
        },
        zone: 'UTC',
        trialId: 1,
        isSimulated: true,
      },
    })
    expect(log.findAll('.missed li').map((each) => each.text().slice(0, 12))).toEqual([
      'Spoiled. T2,',
      'Deviation. R',
      'Noted. K7, c',
    ])
    const [taken, works] = log.findAll('table')
    expect(taken?.find('tbody tr').text()).toContain('K7 2; T2 4, not said to be even')
    expect(works?.findAll('tbody tr')).toHaveLength(24)
    expect(works?.find('tbody tr').text()).toContain('19.5 °C, 52 %, FH-1')
    expect(log.text()).toContain('is simulated')
    await log.find('button').trigger('click')
    expect(works?.findAll('tbody tr')).toHaveLength(30)
  })
})
