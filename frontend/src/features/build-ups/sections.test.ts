import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { blankLayer, type BuildUpDetail } from './model'
import SectionsPanel from './SectionsPanel.vue'
import { draftOfSections, missingInSections, sectionWords, standingOf, type SectionRow } from './sections'

const ROWS: SectionRow[] = [
  { section: { name: 'nothing on top', coats: null, layers: [] }, layers: [], on: [], out: [] },
  {
    section: { name: 'waxed', coats: 2, layers: [{ family: 'wax', coats: 1 }] },
    layers: [{ name: 'Wax', family: 'wax', seat: 'top', coats: 1 }],
    on: [
      {
        build_up: 'Marrowby Tung',
        findings: [
          { rule: 'x', severity: 'warn', place: 'layers.1', reason: 'It stays soft.', remedy: 'Wait.' },
        ],
        is_blocked: false,
        cost_per_m2: 4.5,
        days: 33,
      },
      { build_up: 'Skarn Waterborne Satin', findings: [], is_blocked: true, cost_per_m2: null, days: 12 },
    ],
    out: ['Pikelaw Board Oil'],
  },
]

describe('what a section carries', () => {
  it('is said in a few words', () => {
    const [plain, waxed] = draftOfSections(ROWS)
    const nameOf = (layer: { family: string }) => layer.family
    expect(sectionWords(plain!, nameOf)).toBe('the build-up as it is')
    expect(sectionWords(waxed!, nameOf)).toBe('2 coats of the build-up, then wax')
    expect(sectionWords({ name: 'once', coats: 1, layers: [] }, nameOf)).toBe('1 coat of the build-up')
  })
  it('is not kept with anything left to fill in, nor alone', () => {
    const own = draftOfSections(ROWS)
    expect(missingInSections(own)).toBeNull()
    expect(missingInSections([])).toBeNull()
    expect(missingInSections(own.slice(0, 1))).toContain('One section alone is the panel.')
    expect(missingInSections([{ ...own[0]!, name: ' ' }, own[1]!])).toBe('Section 1: give it a name.')
    const blank = { name: 'topped', coats: null, layers: [blankLayer()] }
    expect(missingInSections([own[0]!, blank])).toBe('topped: choose the product, or at least its family.')
  })
  it('will not hold on some, and asks for care on others', () => {
    expect(standingOf(ROWS[1]!)).toEqual({ blocked: ['Skarn Waterborne Satin'], warned: ['Marrowby Tung'] })
  })
})

describe('the sections on the screen', () => {
  let sent: Request[]
  beforeEach(() => {
    localStorage.clear()
    setActivePinia(createPinia())
    sent = []
  })
  function show(rows: SectionRow[], chosen?: Partial<BuildUpDetail>) {
    vi.stubGlobal(
      'fetch',
      vi.fn(async (request: Request) => {
        sent.push(request)
        return Response.json({ sections: rows })
      }),
    )
    return mount(SectionsPanel, {
      props: { trialId: 1, isStarted: false, families: [], chosen: chosen as BuildUpDetail },
    })
  }

  it('begin with and without, and are kept as a whole', async () => {
    const panel = show([])
    await flushPromises()
    expect(panel.text()).toContain('each panel carries its build-up all over')
    await panel.find('header button').trigger('click')
    expect(panel.findAll('fieldset.one')).toHaveLength(2)
    await panel.find('form').trigger('submit')
    expect(panel.find('[role=alert]').text()).toBe('Section 2: give it a name.')
  })
  it('offer to try a wax with and without, by one press', async () => {
    const panel = show([], { id: 3, name: 'Tung and wax', recipe: { final: 'waxed' } as never })
    await flushPromises()
    await panel.find('.offer button').trigger('click')
    await flushPromises()
    expect(sent.map((each) => `${each.method} ${new URL(each.url).pathname}`)).toContain(
      'POST /api/trials/1/build-ups/3/without-wax',
    )
    expect(panel.emitted('changed')?.[0]?.[0]).toContain('with and without its wax')
  })
  it('tell what they come to on each build-up', async () => {
    const panel = show(ROWS)
    await flushPromises()
    expect(panel.text()).toContain('Will not hold on Skarn Waterborne Satin')
    expect(panel.text()).toContain('On 1 of 2 build-ups there is something to know')
    expect(panel.text()).toContain('It stays soft.')
    expect(panel.text()).toContain('Not compared on Pikelaw Board Oil')
  })
})
