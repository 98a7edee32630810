import type { Schemas } from '@/api/client'

export type Ranking = Schemas['Ranking']

/** The weights that differ from the profile's own, as the server takes them; empty boxes keep the profile's. */
export function weightsQuery(
  weights: Readonly<Record<string, number | null>>,
  own: Readonly<Record<string, number>>,
): string {
  return Object.entries(weights)
    .filter(([name, weight]) => weight != null && weight !== own[name])
    .map(([name, weight]) => `${name}:${weight}`)
    .join(',')
}

/** What a gate's probability means, in words short enough for a cell. */
export function gateWords(probability: number | null): string {
  if (probability == null) return 'not tested'
  if (probability >= 0.9) return 'passes'
  if (probability <= 0.1) return 'fails'
  return 'open'
}
