import { mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { describe, expect, it } from 'vitest'
import { rowsOf, takesText, type Composed, type Draft, type Test } from './model'
import TestLine from './TestLine.vue'

function test(id: string, lastsMin: number): Test {
  return {
    id,
    name: `Coffee ${id}`,
    short_name: id,
    site: { kind: 'spot', wetted_mm: 40 },
    acts: [{ id: 'lay', kind: 'lay', lasts_min: lastsMin }],
    reads: [{ response: 'grade' }],
  } as Test
}
const about = (id: string, ladder: string, to: number) =>
  ({
    id,
    ladder,
    timeline: { bars: [{ from_min: 0, to_min: to, kind: 'contact' }], looks: [] },
    asked: { has_own_panel: false },
  }) as unknown as Composed['tests'][number]

// The ladder's steps stand among the others, and not in its order.
const TESTS = [test('6h', 360), test('wet', 60), test('10min', 10), test('1h', 60)]
const composed = {
  protocol: {
    name: 'P',
    tests: TESTS,
    looks: [],
    ladders: [{ id: 'coffee', name: 'Coffee ladder', tests: ['10min', '1h', '6h'] }],
  } as unknown as Draft,
  tests: TESTS.map(({ id }) => about(id, id === 'wet' ? '' : 'coffee', { '6h': 360, '10min': 10 }[id] ?? 60)),
} as unknown as Composed

describe('the lines of a protocol', () => {
  it('take the steps of a ladder together, from the mildest on', () => {
    const rows = rowsOf(composed).map((row) => [row.ladder?.name, row.steps.map((step) => step.test.id)])
    expect(rows).toEqual([
      ['Coffee ladder', ['10min', '1h', '6h']],
      [undefined, ['wet']],
    ])
  })
  it('say what a ladder takes in all', () => {
    expect([takesText(test('1h', 60), false, 3), takesText(test('1h', 60), true)]).toEqual([
      '3 spots',
      '1 panel',
    ])
  })
  it('draw the step in hand whole and mark where the others end', () => {
    setActivePinia(createPinia())
    const [row] = rowsOf(composed)
    const line = (chosen: string) =>
      mount(TestLine, { props: { draft: composed.protocol, row: row as NonNullable<typeof row>, chosen } })
    const wide = (chosen: string) => line(chosen).find('.bar').attributes('style')
    expect(line('1h').text()).toContain('3 steps: 10 min → 1 h → 6 h')
    expect(line('1h').findAll('.step')).toHaveLength(2)
    expect(wide('10min')).not.toBe(wide('6h'))
    // None in hand: the hardest.
    expect(wide('wet')).toBe(wide('6h'))
    expect(line('wet').attributes('aria-pressed')).toBe('false')
  })
})
