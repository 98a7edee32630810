import type { Schemas } from '@/api/client'
import { words } from '@/api/declared.json'

export type ProductFields = Schemas['ProductFields']
export type Label = Schemas['Label']
export type Found = Schemas['Found']
export type WoodFields = Schemas['SpeciesFields']
export type AgentFields = Schemas['AgentFields']

/** A product with everything in its place, as the form holds it. */
export interface ProductDraft extends Omit<ProductFields, 'label' | 'found' | 'parts' | 'containers'> {
  parts: Schemas['Part'][]
  containers: Schemas['Container'][]
  label: Label
  found: Found
}

export const DISCLOSURE_WORDS: Record<Schemas['DisclosureEnum'], string> = words.disclosure
export const FOOD_WORDS: Record<Schemas['FoodContactEnum'], string> = words.food_contact
export const OBTAINED_WORDS: Record<Schemas['ObtainedEnum'], string> = words.obtained
export const SHEEN_WORDS: Record<Schemas['SheenEnum'], string> = words.sheen
export const PORE_WORDS: Record<Schemas['PoresEnum'], string> = words.pores
export const GROUP_WORDS: Record<Schemas['GroupEnum'], string> = words.group
export const NATURE_WORDS: Record<Schemas['NaturesEnum'], string> = words.natures

type NumberField<T> = {
  [K in keyof T]-?: number extends NonNullable<T[K]> ? (null extends T[K] ? K : never) : never
}[keyof T]

export interface FigureField {
  label: NumberField<Label>
  /** The tester's own figure for the same thing, where one is kept. */
  found?: NumberField<Found>
  words: string
  quantity: string
}

/** Figures of a label, in the order of the work, each beside what was found. */
export const FIGURES: readonly { title: string; fields: readonly FigureField[] }[] = [
  {
    title: 'Mixing and spread',
    fields: [
      { label: 'pot_life_min', words: 'Pot life', quantity: 'minutes' },
      { label: 'thin_up_to_pct', words: 'Thin up to', quantity: 'percent' },
      {
        label: 'spread_first_m2_per_l',
        found: 'spread_m2_per_l',
        words: 'Spread, first coat',
        quantity: 'spread_m2_per_l',
      },
      { label: 'spread_later_m2_per_l', words: 'Spread, later coats', quantity: 'spread_m2_per_l' },
      { label: 'coats', words: 'Coats', quantity: 'count' },
      { label: 'finest_grit', words: 'Finest grit', quantity: 'number' },
    ],
  },
  {
    title: 'Windows',
    fields: [
      { label: 'wipe_off_from_min', words: 'Wipe off from', quantity: 'minutes' },
      { label: 'wipe_off_to_min', words: 'Wipe off until', quantity: 'minutes' },
      { label: 'recoat_from_h', words: 'Recoat from', quantity: 'hours' },
      { label: 'recoat_to_h', words: 'Recoat until', quantity: 'hours' },
      { label: 'touch_dry_h', found: 'touch_dry_h', words: 'Touch-dry', quantity: 'hours' },
      { label: 'light_use_d', words: 'Light use', quantity: 'days' },
      { label: 'cure_d', found: 'cure_d', words: 'Full cure', quantity: 'days' },
      { label: 'cure_without_hardener_d', words: 'Full cure without hardener', quantity: 'days' },
    ],
  },
  {
    title: 'Room and shelf',
    fields: [
      { label: 'temperature_from_c', words: 'Not colder than', quantity: 'celsius' },
      { label: 'temperature_to_c', words: 'Not warmer than', quantity: 'celsius' },
      { label: 'humidity_to_pct', words: 'Not damper than', quantity: 'percent' },
      { label: 'keeps_opened_d', words: 'Keeps once opened', quantity: 'days' },
    ],
  },
]

const EMPTY_LABEL: Label = Object.fromEntries(
  FIGURES.flatMap((group) => group.fields).map((field) => [field.label, null]),
) as Label

export const ONE_PART: readonly Schemas['Part'][] = [{ name: 'Finish', share: 1 }]
export const TWO_PARTS: readonly Schemas['Part'][] = [
  { name: 'Base', share: 9 },
  { name: 'Hardener', share: 1 },
]

/** Whether a draft's parts are still those that it began with, and nothing is bought of them yet. */
export function isUntouched(draft: ProductDraft, begun: readonly Schemas['Part'][]): boolean {
  return draft.containers.length === 0 && JSON.stringify(draft.parts) === JSON.stringify(begun)
}

export function emptyProduct(): ProductDraft {
  return {
    name: '',
    maker: '',
    family: '',
    parts: ONE_PART.map((part) => ({ ...part })),
    sold_by: 'volume',
    containers: [],
    label: { ...EMPTY_LABEL, mix_by: 'volume', abrade_between: '', dissolves_wax: false, hazards: '' },
    found: {
      smell: '',
      viscosity: '',
      drying_drop: '',
      touch_dry_h: null,
      cure_d: null,
      spread_m2_per_l: null,
      note: '',
    },
    disclosure: 'unknown',
    ingredients: '',
    food_contact: 'not-stated',
    voc_g_per_l: null,
    solids_pct: null,
    density_g_per_ml: null,
    sheen: '',
    tint: '',
    obtained: 'unknown',
    note: '',
  }
}

/** A product of the shelf as the form holds it: a copy, with nothing left out. */
export function draftOf(product: ProductFields): ProductDraft {
  const empty = emptyProduct()
  const copy = JSON.parse(JSON.stringify(product)) as ProductFields
  return {
    ...empty,
    ...copy,
    parts: copy.parts ?? empty.parts,
    containers: copy.containers ?? [],
    label: { ...empty.label, ...copy.label },
    found: { ...empty.found, ...copy.found },
  }
}

/** One amount for each part, after parts came or went. */
export function fitContainers(draft: ProductDraft): void {
  for (const container of draft.containers)
    container.amounts = draft.parts.map((_, index) => container.amounts[index] ?? 0)
}

/** Where a row's fault stands, for a person: "line 7, family". */
export function placeOf(fault: Schemas['RowFault']): string {
  return fault.column ? `Line ${fault.line}, ${fault.column}` : `Line ${fault.line}`
}

/** Words of which each must stand somewhere in a text. */
export function matches(text: string, search: string): boolean {
  const lower = text.toLowerCase()
  return search
    .toLowerCase()
    .split(/\s+/)
    .every((word) => lower.includes(word))
}

/** "10 min, 1 h, 6 h" of minutes. */
export function durationWords(minutes: readonly number[]): string {
  return minutes
    .map((m) =>
      m === 0
        ? 'at once'
        : m < 1
          ? `${Math.round(m * 60)} s`
          : m < 60
            ? `${m} min`
            : `${Number((m / 60).toFixed(1))} h`,
    )
    .join(', ')
}

/** Numbers from a line such as "10, 60 360"; null when one is no number. */
export function readNumbers(text: string): number[] | null {
  const numbers = text
    .split(/[;,\s]+/)
    .filter(Boolean)
    .map(Number)
  return numbers.every(Number.isFinite) ? numbers : null
}
