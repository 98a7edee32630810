import type { Schemas } from '@/api/client'
import { blankLayer, type LayerDraft } from './model'

export type SectionRow = Schemas['SectionRow']

/** A section as the screen holds it: how many of the build-up's coats (null for all), and what lies on top. */
export interface SectionDraft {
  name: string
  coats: number | null
  layers: LayerDraft[]
}

export function draftOfSections(rows: readonly SectionRow[]): SectionDraft[] {
  return rows.map(({ section }) => ({
    name: section.name,
    coats: section.coats ?? null,
    layers: (section.layers ?? []).map((layer) => ({ ...blankLayer(), ...layer })),
  }))
}

/** What is still to be filled in, in words; null when the sections can be kept. */
export function missingInSections(sections: readonly SectionDraft[]): string | null {
  if (sections.length === 1) return 'One section alone is the panel. Add another, or remove it.'
  for (const [index, section] of sections.entries()) {
    if (!section.name.trim()) return `Section ${index + 1}: give it a name.`
    if (section.layers.some((layer) => !layer.family))
      return `${section.name}: choose the product, or at least its family.`
    if (section.layers.some((layer) => !Number.isInteger(layer.coats)))
      return `${section.name}: say how many coats.`
  }
  return null
}

/** What a section carries, in a few words: "as the panel", "1 coat", "all coats, then Bellwether Soft Wax". */
export function sectionWords(section: SectionDraft, nameOf: (layer: LayerDraft) => string): string {
  const coats =
    section.coats === null ? '' : `${section.coats} ${section.coats === 1 ? 'coat' : 'coats'} of the build-up`
  if (!section.layers.length) return coats || 'the build-up as it is'
  return `${coats || 'the build-up'}, then ${section.layers.map(nameOf).join(', ')}`
}

/** What a section comes to: where it will not hold, what it costs, how long it takes. */
export function standingOf(row: SectionRow): { blocked: string[]; warned: string[] } {
  const named = (severity: string) =>
    row.on
      .filter((each) => each.findings.some((one) => one.severity === severity))
      .map((each) => each.build_up)
  return {
    blocked: row.on.filter((each) => each.is_blocked).map((each) => each.build_up),
    warned: named('warn'),
  }
}
