import type { Schemas } from '@/api/client'
import type { DrawnArea, DrawnSpot } from '@/kit/PanelDrawing.vue'

export type Trial = Schemas['Trial']
export type Outlook = Schemas['Outlook']
export type Design = Schemas['Design']
export type Board = Schemas['Board']
export type KeyedPanel = Schemas['KeyedPanel']

/** What the Design page may change of a trial. Number fields may be empty while they are typed. */
export interface DesignDraft {
  boards_per_species: number
  panel_length_mm: number | null
  panel_width_mm: number | null
  margin_mm: number | null
  sections: string[]
  pairs: number[][]
  kerf_mm: number | null
  end_trim_mm: number | null
  end_piece_mm: number | null
  faces: Schemas['FacesUsedEnum']
  panels_each: number
  slip_replicates: number
  ladders: Schemas['LaddersEnum']
  exposing: Schemas['ExposingEnum']
  arrangement: Schemas['ArrangementEnum']
  block_size: number | null
  sd: number | null
  /** Boards of each wood that each stage adds; none for one look at the end. */
  stages: number[]
}

export function designDraftOf(trial: Trial): DesignDraft {
  return {
    boards_per_species: trial.boards_per_species ?? 0,
    panel_length_mm: trial.panel_length_mm ?? null,
    panel_width_mm: trial.panel_width_mm ?? null,
    margin_mm: trial.margin_mm ?? null,
    sections: [...trial.sections],
    pairs: trial.pairs.map((pair) => [...pair]),
    kerf_mm: trial.kerf_mm ?? null,
    end_trim_mm: trial.end_trim_mm ?? null,
    end_piece_mm: trial.end_piece_mm ?? null,
    faces: trial.faces,
    panels_each: trial.panels_each ?? 1,
    slip_replicates: trial.slip_replicates ?? 3,
    ladders: trial.ladders,
    exposing: trial.exposing,
    arrangement: trial.arrangement,
    block_size: trial.block_size ?? null,
    sd: trial.sd ?? null,
    stages: [...trial.stages],
  }
}

const NEEDED = {
  panel_length_mm: 'the panel length',
  panel_width_mm: 'the panel width',
  margin_mm: 'the margin',
  kerf_mm: 'the kerf',
  end_trim_mm: 'the end trim',
  end_piece_mm: 'the end-grain piece, 0 for none',
} as const

/** The first number left empty, in words, or null when all are there. */
export function missingMeasure(draft: DesignDraft): string | null {
  for (const [field, words] of Object.entries(NEEDED))
    if (draft[field as keyof typeof NEEDED] == null) return `Fill in ${words}.`
  return null
}

/** The draft as the server takes it; a section that is still being named, or a pair of one, is left out. */
export function designFields(draft: DesignDraft): Schemas['PatchedTrialFieldsRequest'] {
  return {
    ...draft,
    panel_length_mm: draft.panel_length_mm ?? undefined,
    panel_width_mm: draft.panel_width_mm ?? undefined,
    margin_mm: draft.margin_mm ?? undefined,
    kerf_mm: draft.kerf_mm ?? undefined,
    end_trim_mm: draft.end_trim_mm ?? undefined,
    end_piece_mm: draft.end_piece_mm ?? undefined,
    sections: draft.sections.map((name) => name.trim()).filter(Boolean),
    pairs: draft.pairs.filter((pair) => pair.length === 2 && pair[0] !== pair[1]),
    block_size: draft.arrangement === 'incomplete' ? draft.block_size : null,
  }
}

type ServedSpot = Schemas['OwnSpot'] | Schemas['KeyedSpot']

/** One face's spots as a panel's drawing takes them. */
export function drawnSpots(
  spots: readonly ServedSpot[],
  side: string,
  names: ReadonlyMap<string, string>,
): DrawnSpot[] {
  return spots
    .filter((spot) => spot.side === side)
    .map((spot) => ({
      exposure: spot.exposure,
      id: `${spot.exposure}/${spot.section ?? ''}`,
      x_mm: spot.x_mm,
      y_mm: spot.y_mm,
      diameter_mm: spot.diameter_mm,
      kind: spot.kind,
      along_mm: spot.along_mm,
      across_mm: spot.across_mm,
      label: names.get(spot.exposure) ?? spot.exposure,
    }))
}

/** A panel's sections with their names, in the order in which they lie. */
export function drawnAreas(sections: readonly Schemas['OwnSection'][]): DrawnArea[] {
  return sections.map((section, index) => ({ ...section, place: index + 1 }))
}

/** The faces of a panel that carry spots. */
export function sidesOf(spots: readonly { side: string }[]): ('front' | 'back')[] {
  return spots.some((spot) => spot.side === 'back') ? ['front', 'back'] : ['front']
}
