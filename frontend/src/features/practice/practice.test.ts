import { flushPromises, mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { kappaWords } from '@/kit/agreement'
import { layOut, type MarkPicture } from '@/kit/mark/surface'
import { GLANCING, shade, SQUARE_ON, type Lamp } from '@/kit/mark/shade'
import { DRAWN } from '@/kit/responses'
import DrillBench from './DrillBench.vue'
import {
  againWords,
  leanWords,
  markWords,
  nextMark,
  progressPoints,
  type Drill,
  type DrillLine,
} from './model'

type Shape = MarkPicture['shapes'][number]
function picture(...shapes: Partial<Shape>[]): MarkPicture {
  return {
    ground: 'wood', gloss: 0.45, figure: 7,
    shapes: shapes.map((each) => ({
      shape: 'disc', x: 0.5, y: 0.31, r: 0.2, colour: 0, gloss: 0, height: 0, figure: 3, ...each,
    })),
  } // prettier-ignore
}
const [W, H] = [160, 100]
/** How far a shape changes what is seen, from 0 to 255, where it changes most: the mean of the hundred largest differences. */
function stands(lamp: Lamp, ...shapes: Partial<Shape>[]): number {
  const [bare, marked] = [picture(), picture(...shapes)].map((each) => {
    const pixels = new Uint8ClampedArray(4 * W * H)
    shade(layOut(each, W, H), lamp, pixels)
    return pixels
  }) as [Uint8ClampedArray, Uint8ClampedArray]
  const differences = [...bare].map((value, n) => Math.abs(value - (marked[n] ?? 0))).sort((a, b) => b - a)
  return differences.slice(0, 100).reduce((sum, each) => sum + each, 0) / 100
}

describe('a mark under the lamp', () => {
  it('that is colour is seen from every side', () => {
    expect(stands(SQUARE_ON, { colour: -0.3 })).toBeGreaterThan(20)
    expect(stands(GLANCING, { colour: -0.3 })).toBeGreaterThan(20)
  })
  it.each([[{ gloss: -0.4 }], [{ shape: 'ring' as const, height: 0.25 }]])(
    'that is %o is seen only when the light glances',
    (shape) => {
      expect(stands(GLANCING, shape)).toBeGreaterThan(12)
      expect(stands(SQUARE_ON, shape)).toBeLessThan(stands(GLANCING, shape) / 3)
    },
  )
  it('that stands up is seen from the side that the light comes from', () => {
    const lit = (azimuth: number) => {
      const pixels = new Uint8ClampedArray(4 * W * H)
      shade(layOut(picture({ height: 1 }), W, H), { elevation: 12, azimuth }, pixels)
      return pixels
    }
    const edge = (pixels: Uint8ClampedArray) => pixels[4 * (50 * W + 112)] ?? 0
    // The flank at the right is bright when the lamp stands there and dark when it stands opposite.
    expect(edge(lit(0))).toBeGreaterThan(edge(lit(180)) + 20)
  })
  it('of every shape changes something, and nothing is no number', () => {
    for (const shape of [
      'disc',
      'ring',
      'dots',
      'fibres',
      'streaks',
      'cracks',
      'patches',
      'edge',
      'print',
      'stroke',
      'cloth',
      'drop',
    ] as const) {
      expect(stands(GLANCING, { shape, colour: -0.4, gloss: -0.3, height: 0.5 }), shape).toBeGreaterThan(5)
      const surface = layOut(picture({ shape, colour: 1, gloss: 1, height: 1 }), 64, 40)
      expect([...surface.albedo, ...surface.gloss, ...surface.relief].every(Number.isFinite)).toBe(true)
    }
  })
})

describe('words for a drill', () => {
  const result = {
    n_marks: 20,
    kappa: 0.86,
    exact_share: 0.7,
    lean_steps: 0.4,
    n_again: 4,
    again_same_share: 0.75,
  }
  it('tell agreement, leaning and what was read the same again', () => {
    expect([0.86, 0.7, 0.5, 0.1, -0.2].map(kappaWords)).toEqual([
      'very well (0.86 of 1)', 'well (0.70 of 1)', 'somewhat (0.50 of 1)', 'hardly (0.10 of 1)', 'hardly (-0.20 of 1)',
    ]) // prettier-ignore
    expect(kappaWords(null)).toContain('cannot be told')
    expect(leanWords(result, 'grade')).toBe('too kind by 0.4 of a step')
    expect(leanWords({ ...result, lean_steps: -1 }, 'grade')).toBe('too hard by 1.0 of a step')
    expect(leanWords({ ...result, lean_steps: 1 }, 'sheen-seen')).toBe('too high by 1.0 of a step')
    expect(leanWords({ ...result, lean_steps: 0.05 }, 'grade')).toContain('neither')
    expect(leanWords({ ...result, lean_steps: null }, 'change-kinds')).toBe('')
    expect(againWords(result)).toBe('3 of 4 read the same the second time')
    expect(againWords({ ...result, again_same_share: null })).toBe('')
    expect(markWords('grade', 4)).toBe('4 · only when the light glances')
    expect(markWords('change-kinds', 65)).toBe('colour, ring')
  })
  it('progress has a point for each drill that tells something', () => {
    const line = (id: number, kappa: number | null): DrillLine => ({
      id, response: 'grade', finished_at: '2027-03-02T09:00:00Z', result: { ...result, kappa },
    }) // prettier-ignore
    expect(progressPoints([line(1, 0.5), line(2, null), line(3, 1), line(4, -0.3)], 100, 50)).toMatchObject([
      { id: 1, x: 0, y: 25 },
      { id: 3, x: 50, y: 0 },
      { id: 4, x: 100, y: 50 },
    ])
    expect(progressPoints([line(1, 1)], 100, 50)[0]?.x).toBe(50)
    expect(progressPoints([], 100, 50)).toEqual([])
  })
  it('what can be drawn is declared', () => {
    expect(DRAWN).toContain('grade')
    expect(DRAWN).not.toContain('smell')
  })
})

describe('a drill in hand', () => {
  const drill = (read: (number | null)[]): Drill => ({
    id: 4, response: 'grade', n_marks: 2, begun_at: '2027-03-02T09:00:00Z', finished_at: null, result: null,
    marks: [5, 3].map((drawn, nth) => ({
      nth, picture: picture(), read: read[nth] ?? null, drawn: read[nth] == null ? null : drawn,
    })),
  }) // prettier-ignore
  beforeEach(() => {
    vi.stubGlobal(
      'fetch',
      vi.fn(async (request: Request) => {
        const { value } = await request.json()
        return Response.json(drill([value]))
      }),
    )
  })
  it('tells what was drawn only once it was read, and goes on by a key', async () => {
    const bench = mount(DrillBench, { props: { drill: drill([]) } })
    expect(bench.find('.truth').exists()).toBe(false)
    window.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }))
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '4', bubbles: true }))
    await flushPromises()
    const [found] = bench.emitted('read')?.[0] as [Drill]
    await bench.setProps({ drill: found })
    expect(bench.find('.truth').text()).toContain('It was drawn as 5 · no change. You read 4')
    expect(nextMark(found)).toBe(1)
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }))
    await flushPromises()
    expect(bench.find('.truth').exists()).toBe(false)
    expect(bench.text()).toContain('Mark 2 of 2')
  })
  it('ends behind its last mark', async () => {
    const bench = mount(DrillBench, { props: { drill: drill([5, 3]) } })
    await bench.find('.truth button').trigger('click')
    expect(bench.emitted('over')).toHaveLength(1)
  })
})
