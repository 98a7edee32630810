import type { Schemas } from '@/api/client'

export type Bench = Schemas['Bench']
export type HandsDraft = {
  id?: number | null
  name: string
  hours: Schemas['HoursRequest'][]
  days_off: string
}
export const WEEKDAYS: readonly { id: Schemas['DaysEnum']; name: string }[] = [
  { id: 'mon', name: 'Mon' },
  { id: 'tue', name: 'Tue' },
  { id: 'wed', name: 'Wed' },
  { id: 'thu', name: 'Thu' },
  { id: 'fri', name: 'Fri' },
  { id: 'sat', name: 'Sat' },
  { id: 'sun', name: 'Sun' },
]
export const MAX_HANDS = 4

export interface BenchDraft {
  time_zone: string
  heat_blocks: number | null
  irons: number | null
  rack_places: number | null
  cleanup_min: number | null
  airing_min: number | null
  cup_step_ml: number | null
  scale_step_g: number | null
  currency: string
  thinner_prices: Schemas['ThinnerPrices']
  hands: HandsDraft[]
  instruments: { kind: Schemas['InstrumentKindEnum']; name: string; address: string }[]
  /** Minutes a square metre by kind of work; the usual where there is none. */
  paces: Record<string, number | null>
}

export const THINNERS = [
  { id: 'spirit', name: 'White spirit, a litre' },
  { id: 'alcohol', name: 'Alcohol, a litre' },
  { id: 'strong_solvent', name: 'The maker’s thinner, a litre' },
] as const

export function draftOf(bench: Bench): BenchDraft {
  return {
    time_zone: bench.time_zone,
    heat_blocks: bench.heat_blocks,
    irons: bench.irons,
    rack_places: bench.rack_places,
    cleanup_min: bench.cleanup_min,
    airing_min: bench.airing_min,
    cup_step_ml: bench.cup_step_ml,
    scale_step_g: bench.scale_step_g,
    currency: bench.currency,
    thinner_prices: { ...bench.thinner_prices },
    hands: bench.hands.map((each) => ({
      id: each.id ?? null,
      name: each.name,
      hours: each.hours.map((span) => ({ ...span, days: [...span.days] })),
      days_off: (each.days_off ?? []).join(', '),
    })),
    instruments: bench.instruments.map((each) => ({ ...each })),
    paces: Object.fromEntries(bench.paces.map((each) => [each.kind, each.own])),
  }
}

/** Whether the log differs from what is planned by enough to plan otherwise: three parts in a hundred. */
export function isOther(pace: Bench['paces'][number]): boolean {
  const { logged_min: took, planned_min: planned } = pace
  return took !== null && planned !== null && Math.abs(took - planned) > 0.03 * planned
}

/** "You take 2.1 min a panel, on 24 panels; 1.4 are planned." */
export function tookWords(pace: Bench['paces'][number]): string {
  const panels = `${pace.n_panels} ${pace.n_panels === 1 ? 'panel' : 'panels'}`
  const planned = isOther(pace) ? `${pace.planned_min} would be planned` : 'as planned'
  return `You take ${pace.logged_min} min a panel, on ${panels}; ${planned}.`
}

export function newHands(): HandsDraft {
  return {
    name: '',
    hours: [{ days: ['mon', 'tue', 'wed', 'thu', 'fri'], from: '09:00', to: '17:30' }],
    days_off: '',
  }
}

/** The bench as the server takes it, or what is missing, in words. Instruments only for those who may set them. */
export function benchToSend(
  draft: BenchDraft,
  ownsShop: boolean,
): Schemas['PatchedBenchFieldsRequest'] | string {
  const { heat_blocks, irons, cleanup_min, airing_min, cup_step_ml, scale_step_g } = draft
  if (heat_blocks === null || irons === null || cleanup_min === null || airing_min === null)
    return 'Fill in the heat blocks, the irons, the clean-up and the airing; 0 for none.'
  if (!cup_step_ml || !scale_step_g)
    return 'Give the smallest step of your syringe or cup, and of your scale: more than 0.'
  return {
    time_zone: draft.time_zone.trim(),
    heat_blocks,
    irons,
    cleanup_min,
    airing_min,
    cup_step_ml,
    scale_step_g,
    currency: draft.currency.trim(),
    thinner_prices: draft.thinner_prices,
    rack_places: draft.rack_places,
    paces: draft.paces,
    hands: draft.hands.map((each) => ({
      id: each.id ?? null,
      name: each.name,
      hours: each.hours,
      days_off: each.days_off.split(/[\s,;]+/).filter(Boolean),
    })),
    ...(ownsShop ? { instruments: draft.instruments.map(({ kind, address }) => ({ kind, address })) } : {}),
  }
}
