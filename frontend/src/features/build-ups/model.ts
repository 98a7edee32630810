import type { Schemas } from '@/api/client'
import { words } from '@/api/declared.json'
import type { DrawnLayer } from '@/kit/section'

export type BuildUps = Schemas['BuildUps']
export type BuildUpDetail = Schemas['BuildUpDetail']
export type Assessment = Schemas['Assessment']
export type Finding = Schemas['Finding']
export type LayerDraft = Required<Schemas['Layer']>
export type PreparationDraft = Required<Schemas['Preparation']>

/** A recipe as the editor holds it, with its build-up's name. */
export interface RecipeDraft {
  name: string
  preparation: PreparationDraft
  layers: LayerDraft[]
  final: Schemas['FinalEnum']
  final_product: number | null
  faces: Schemas['RecipeFacesEnum']
  experiment_reason: string
}

export const APPLICATOR_WORDS: Record<Schemas['ApplicatorEnum'], string> = words.applicator
export const START_WORDS: Record<Schemas['StartEnum'], string> = words.start
export const SANDING_WORDS: Record<Schemas['SandingEnum'], string> = words.sanding
export const CLEANING_WORDS: Record<Schemas['CleaningEnum'], string> = words.cleaning
export const WASHING_WORDS: Record<Schemas['WashedEnum'], string> = words.washed
export const CHARRING_WORDS: Record<Schemas['CharringEnum'], string> = words.charring
export const FINAL_WORDS: Record<Schemas['FinalEnum'], string> = words.final
export const SEVERITY_WORDS: Record<Schemas['SeverityEnum'], string> = words.severity
export const PREPARATION_SCHOOLS: Record<Schemas['PreparationSchoolEnum'], string> = words.preparation_school
export const COAT_SCHOOLS: Record<Schemas['CoatSchoolEnum'], string> = words.coat_school

export function blankLayer(): LayerDraft {
  return {
    product: null,
    family: '',
    coats: 1,
    applicator: 'rag',
    stop_rule: 'coats',
    abrade_between: '',
    wait_before_h: null,
    sanded_before: false,
    to_wood: false,
    thinned_pct: 0,
    hardener: true,
    wait_between_h: null,
    notes: [],
    thinned_by_coat: [],
  }
}

const PLAIN_WOOD: PreparationDraft = {
  start: 'planed',
  grits: [80, 120, 180],
  sanding: 'along',
  end_grain_grit: null,
  water_popped: false,
  cleaning: 'dry',
  charring: 'none',
  brushed: false,
  washed: 'none',
}

export function draftOf(buildUp: BuildUpDetail): RecipeDraft {
  const recipe = buildUp.recipe
  return {
    name: buildUp.name,
    preparation: { ...PLAIN_WOOD, ...recipe?.preparation },
    layers: (recipe?.layers ?? []).map((layer) => ({ ...blankLayer(), ...layer })),
    final: recipe?.final ?? 'none',
    final_product: recipe?.final_product ?? null,
    faces: recipe?.faces ?? 'both',
    experiment_reason: recipe?.experiment_reason ?? '',
  }
}

export function recipeOf(draft: RecipeDraft): Schemas['RecipeRequest'] {
  const { preparation, layers, final, final_product, faces, experiment_reason } = draft
  return { preparation, layers, final, final_product, faces, experiment_reason }
}

/** The layers to draw while one builds, from the wood up; a layer without a product yet is not drawn. */
export function drawnOf(draft: RecipeDraft, families: ReadonlyMap<string, Schemas['Family']>): DrawnLayer[] {
  const drawn = draft.layers.map((layer) => ({
    family: layer.family,
    seat: families.get(layer.family)?.seat ?? ('on' as const),
    coats: layer.coats,
  }))
  if (draft.final === 'waxed') drawn.push({ family: 'wax', seat: 'top', coats: 1 })
  return drawn.filter((layer) => layer.family)
}

/** What is still to be filled in, in words; null when the recipe can be looked over. */
export function missingIn(draft: RecipeDraft): string | null {
  if (!draft.name.trim()) return 'Give the build-up a name.'
  if (!draft.layers.length) return 'Add a layer: a build-up has at least one.'
  const unnamed = draft.layers.findIndex((layer) => !layer.family)
  if (unnamed >= 0) return `Layer ${unnamed + 1}: choose the product, or at least its family.`
  // A number box that is blank, or holds 1.5, gives a text or a fraction.
  const uncounted = draft.layers.findIndex((layer) => !Number.isInteger(layer.coats))
  return uncounted < 0 ? null : `Layer ${uncounted + 1}: say how many coats.`
}

/** Findings of one place, such as "layers.1". */
export function findingsAt(findings: readonly Finding[], place: string): Finding[] {
  return findings.filter((finding) => finding.place === place)
}

/** "80-120 180" as grits; null when one is no whole number. */
export function readGrits(text: string): number[] | null {
  const grits = text
    .split(/[-,;\s]+/)
    .filter(Boolean)
    .map(Number)
  return grits.every(Number.isInteger) ? grits : null
}

/** Swap a layer with the one above or beneath it. */
export function moveLayer(layers: LayerDraft[], index: number, by: -1 | 1): void {
  const other = index + by
  const [one, two] = [layers[index], layers[other]]
  if (!one || !two) return
  layers[index] = two
  layers[other] = one
}

/** Minutes as a person says them: "50 min", "3 h 20". */
export function handsOn(minutes: number): string {
  const whole = Math.round(minutes)
  if (whole < 60) return `${whole} min`
  const rest = whole % 60
  return `${Math.floor(whole / 60)} h${rest ? ` ${String(rest).padStart(2, '0')}` : ''}`
}

/** "Tung copy", "Tung copy 2", ...: the first that is free. */
export function freeName(name: string, taken: ReadonlySet<string>): string {
  const stem = `${name.slice(0, 105)} copy`
  let n = 1
  while (taken.has(n === 1 ? stem : `${stem} ${n}`)) n += 1
  return n === 1 ? stem : `${stem} ${n}`
}
