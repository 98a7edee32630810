import type { Schemas } from '@/api/client'

export type Ranking = Schemas['Ranking']

/** The weights that differ from the profile's own, as the server takes them. */
export function weightsQuery(weights: Readonly<Record<string, number | null>>): string {
  return Object.entries(weights)
    .filter((pair): pair is [string, number] => pair[1] != null)
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
