/** Wood tones, and grain drawn from a seed so that a panel keeps its figure. */

export interface WoodTone {
  ground: string
  grain: string
}

const TONES: Record<string, WoodTone> = {
  beech: { ground: '#E3C3A0', grain: '#C79A6B' },
  larch: { ground: '#DDAE78', grain: '#B57F45' },
  sycamore: { ground: '#EFE2C8', grain: '#D3BE97' },
  elm: { ground: '#B98F66', grain: '#8E663F' },
  'white-oak': { ground: '#CDAE82', grain: '#A3814F' },
  'red-oak': { ground: '#CFA582', grain: '#A67850' },
  ash: { ground: '#E2CFAB', grain: '#B89C6B' },
  chestnut: { ground: '#C9A678', grain: '#9C784A' },
  walnut: { ground: '#8F6B4E', grain: '#64472F' },
  cherry: { ground: '#C98F66', grain: '#A06A42' },
  'hard-maple': { ground: '#EBDCC0', grain: '#CDB58A' },
  birch: { ground: '#E8D3AE', grain: '#C7AA78' },
  alder: { ground: '#D2A681', grain: '#AC7F57' },
  lime: { ground: '#EADABB', grain: '#CBB48A' },
  pine: { ground: '#E9CD98', grain: '#C89C58' },
  spruce: { ground: '#EBD8B0', grain: '#CDAE76' },
  teak: { ground: '#B08552', grain: '#835B2E' },
  iroko: { ground: '#A8804C', grain: '#7B5729' },
}

/** A slip of glass on paper. */
export const GLASS: WoodTone = { ground: '#E4EDEE', grain: '#8FA3A8' }

export function woodTone(species: string): WoodTone {
  return TONES[species] ?? { ground: '#D9BE98', grain: '#B28F60' }
}

/** A small repeatable generator: the same text gives the same numbers, each in [0, 1). */
export function seededNumbers(text: string): () => number {
  let state = 2166136261
  for (const sign of text) state = Math.imul(state ^ (sign.codePointAt(0) ?? 0), 16777619)
  return () => {
    state = Math.imul(state ^ (state >>> 15), 2246822507)
    state = Math.imul(state ^ (state >>> 13), 3266489909)
    state ^= state >>> 16
    return (state >>> 0) / 4294967296
  }
}

/** Grain lines as SVG paths along the length of a panel, mm. */
export function grainPaths(seed: string, lengthMm: number, widthMm: number): string[] {
  const next = seededNumbers(seed)
  const n = Math.max(4, Math.round(widthMm / 9))
  return Array.from({ length: n }, (_, index) => {
    const y = ((index + 0.2 + 0.6 * next()) / n) * widthMm
    const sway = 1 + 2.2 * next()
    const [a, b, c] = [next() - 0.5, next() - 0.5, next() - 0.5].map((turn) => y + turn * 2 * sway)
    const step = lengthMm / 3
    return `M0 ${y.toFixed(1)} C${step.toFixed(1)} ${a?.toFixed(1)} ${(2 * step).toFixed(1)} ${b?.toFixed(1)} ${lengthMm} ${c?.toFixed(1)}`
  })
}
