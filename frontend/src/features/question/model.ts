import type { Schemas } from '@/api/client'

/** What a keeper fills in about a trial. Number fields may be empty while they are typed. */
export interface TrialDraft {
  name: string
  question: string
  uses: string[]
  species: string[]
  boards_per_species: number | null
  protocol: string
  panel_length_mm: number | null
  panel_width_mm: number | null
  margin_mm: number | null
  judges: number[]
  /** The smallest differences worth knowing that are not the usual ones, by response; ratios as shares. */
  worth_knowing: Record<string, number | null>
}

export const EMPTY_DRAFT: TrialDraft = {
  name: '',
  question: '',
  uses: ['dining-table'],
  species: ['beech'],
  boards_per_species: 4,
  protocol: 'table-basics',
  panel_length_mm: 400,
  panel_width_mm: 150,
  margin_mm: 15,
  judges: [],
  worth_knowing: {},
}

export function draftOf(trial: Schemas['Trial']): TrialDraft {
  return {
    name: trial.name,
    question: trial.question ?? '',
    uses: [...trial.uses],
    species: [...trial.species],
    boards_per_species: trial.boards_per_species ?? null,
    protocol: trial.protocol,
    panel_length_mm: trial.panel_length_mm ?? null,
    panel_width_mm: trial.panel_width_mm ?? null,
    margin_mm: trial.margin_mm ?? null,
    judges: trial.judges.map((judge) => judge.id),
    worth_knowing: { ...trial.worth_knowing },
  }
}

const NUMBERS = {
  boards_per_species: 'the number of boards',
  panel_length_mm: 'the panel length',
  panel_width_mm: 'the panel width',
  margin_mm: 'the margin',
} as const

/** The first number left empty, in words, or null when all are there. */
export function missingNumber(draft: TrialDraft): string | null {
  for (const [field, words] of Object.entries(NUMBERS))
    if (draft[field as keyof typeof NUMBERS] == null) return `Fill in ${words}.`
  return null
}

/** The draft as the server takes it. Only call when no number is missing. */
export function fieldsOf(draft: TrialDraft): Schemas['TrialFieldsRequest'] {
  return {
    ...draft,
    boards_per_species: draft.boards_per_species ?? undefined,
    panel_length_mm: draft.panel_length_mm ?? undefined,
    panel_width_mm: draft.panel_width_mm ?? undefined,
    margin_mm: draft.margin_mm ?? undefined,
    worth_knowing: Object.fromEntries(
      Object.entries(draft.worth_knowing).filter((each): each is [string, number] => each[1] != null),
    ),
  }
}
