import type { Schemas } from '@/api/client'

export type Design = Schemas['Design']
export type Board = Schemas['Board']
export type DeviationKind = Schemas['ToldDeviationEnum']

export interface DefectDraft {
  from_mm: number | null
  to_mm: number | null
  kind: Schemas['DefectKindEnum']
}

/** What is measured of a board; null is not measured. */
export interface MeasuresDraft {
  name: string
  length_mm: number | null
  width_mm: number | null
  defects: DefectDraft[]
}

export const DEFECTS: readonly { id: Schemas['DefectKindEnum']; name: string }[] = [
  { id: 'knot', name: 'Knot' },
  { id: 'sapwood', name: 'Sapwood' },
  { id: 'crack', name: 'Crack' },
  { id: 'other', name: 'Other' },
]

export function measuresOf(board: Board): MeasuresDraft {
  return {
    name: board.name,
    length_mm: board.length_mm,
    width_mm: board.width_mm,
    defects: board.defects.map((defect) => ({ ...defect, kind: defect.kind ?? 'other' })),
  }
}

/** The measures as the server takes them, or what is missing, in words. */
export function measuresToSend(draft: MeasuresDraft): Schemas['PatchedMeasuresRequest'] | string {
  const defects = []
  for (const { from_mm, to_mm, kind } of draft.defects) {
    if (from_mm == null || to_mm == null) return 'Fill in where each defect begins and ends.'
    defects.push({ from_mm, to_mm, kind })
  }
  return { name: draft.name, length_mm: draft.length_mm, width_mm: draft.width_mm, defects }
}

export interface DeviationDraft {
  kind: DeviationKind
  panel: string
  /** Panels replaced in the same breath, which hides which new one stands for which. */
  more: string[]
  /** Where a new panel is cut from (0: the same board), or the board that was swapped. */
  board: number
  reason: string
  length_mm: number | null
  width_mm: number | null
  /** The wood of a board that is added. */
  species: string
}

export const EMPTY_DEVIATION: DeviationDraft = {
  kind: 'panel_spoiled',
  panel: '',
  more: [],
  board: 0,
  reason: '',
  length_mm: null,
  width_mm: null,
  species: '',
}

/** The fields in which a draft differs from what it was. */
export function changesSince(was: DeviationDraft, now: DeviationDraft): Partial<DeviationDraft> {
  const names = Object.keys(now) as (keyof DeviationDraft)[]
  return Object.fromEntries(names.filter((name) => now[name] !== was[name]).map((name) => [name, now[name]]))
}

export const DEVIATION_KINDS: readonly { id: DeviationKind; name: string; says: string }[] = [
  { id: 'panel_spoiled', name: 'A panel is spoiled', says: 'Its grades are kept and count for nothing.' },
  {
    id: 'panel_replaced',
    name: 'A panel is replaced',
    says: 'A new one with a code of its own carries the same build-up and exposures.',
  },
  { id: 'board_swapped', name: 'A board was swapped', says: 'All of its panels come from another plank.' },
  {
    id: 'board_added',
    name: 'A board is added beyond the plan',
    says: 'It carries every build-up once. Once something was read it does not move the verdict; its results stand beside it.',
  },
  { id: 'noted', name: 'Something else', says: 'Of the trial, or of one panel.' },
]

/** The deviation as the server takes it. */
export function deviationToSend(draft: DeviationDraft): Schemas['NewDeviationRequest'] {
  const { kind, reason } = draft
  const panel = draft.panel.trim().toUpperCase() || null
  if (kind === 'board_swapped')
    return {
      kind,
      reason,
      board: draft.board || null,
      length_mm: draft.length_mm,
      width_mm: draft.width_mm,
      defects: [],
    }
  if (kind === 'board_added')
    return {
      kind,
      reason,
      species: draft.species,
      length_mm: draft.length_mm,
      width_mm: draft.width_mm,
      defects: [],
    }
  const several = kind === 'panel_replaced' ? [panel, ...draft.more].filter(Boolean).join(', ') : panel
  return {
    kind,
    reason,
    panel: several || null,
    board: kind === 'panel_replaced' ? draft.board || null : null,
  }
}

export const SHEETS = [
  { id: 'labels', name: 'Panel labels', says: 'Code and QR code for the back of each panel' },
  {
    id: 'templates',
    name: 'Masking and spot templates',
    says: 'Each panel at true size: sections and rings',
  },
  { id: 'cutting-list', name: 'Cutting list', says: 'Each board to scale, and where the saw goes' },
  { id: 'preparation', name: 'Preparation checklist', says: 'Steps, and a box for each panel at each' },
] as const

export const PAPERS = [
  { id: 'a4', name: 'A4' },
  { id: 'letter', name: 'US Letter' },
] as const

export type SheetId = (typeof SHEETS)[number]['id']
export type SheetForm = Schemas['FormEnum']
