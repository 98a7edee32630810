import type { Schemas } from '@/api/client'

export type DrawnLayer = Omit<Schemas['DrawnLayer'], 'name'>

/** One band of a cross-section: a layer, or the depth that it went to in the wood. Heights from the wood's surface, up. */
export interface Band {
  layer: DrawnLayer
  index: number
  /** In the wood, or standing on it. */
  isInWood: boolean
  bottom: number
  top: number
  /** Where one coat ends and the next begins. */
  coats: number[]
}

const DEPTH_FIRST = 16
const DEPTH_MORE = 3
const THICK = { in: 1.4, on: 4, top: 1.8 } as const
const MOST_COATS = 8

/**
 * Stack layers from the wood up. A penetrating layer goes into the wood as long as nothing closes it; over a film it can
 * only lie on top, thin. Films stand, waxes and topcoats lie thin over the rest.
 */
export function stackBands(layers: readonly DrawnLayer[]): Band[] {
  let surface = 0
  let isClosed = false
  return layers.map((layer, index) => {
    const n = Math.max(1, Math.min(layer.coats, MOST_COATS))
    if (layer.seat === 'in' && !isClosed) {
      const depth = DEPTH_FIRST + DEPTH_MORE * (n - 1)
      return { layer, index, isInWood: true, bottom: -depth, top: 0, coats: [] }
    }
    isClosed = true
    const each = THICK[layer.seat]
    const bottom = surface
    surface += each * n
    const coats = Array.from({ length: n - 1 }, (_, coat) => bottom + each * (coat + 1))
    return { layer, index, isInWood: false, bottom, top: surface, coats }
  })
}

const TINTS: Record<string, string> = {
  'shellac-waxed': '#c9822f',
  'shellac-dewaxed': '#d19a45',
  'waterborne-clear': '#a9bfc4',
  lacquer: '#c8b98b',
  'oil-varnish': '#b8772c',
  'catalysed-film': '#9aa79b',
  wax: '#d8cf9d',
  'hydrophobic-topcoat': '#5b6a70',
  stain: '#6a3b2a',
  conditioner: '#b9a27a',
}

/** The colour of a finish in a drawing; oils darken the wood. */
export function finishTint(family: string): string {
  return TINTS[family] ?? '#6b3f12'
}
