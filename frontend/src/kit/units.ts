import { useStorage } from '@vueuse/core'
import { ref, shallowRef } from 'vue'
import { api, body, showPiecesBy, type Schemas } from '@/api/client'
import { askOrKept } from '@/api/kept'

export type ScreenUnit = Schemas['ScreenUnit']
export const SYSTEMS = ['metric', 'us'] as const
export type UnitSystem = (typeof SYSTEMS)[number]

/** The person's choice, remembered in this browser. Values are metric everywhere but on screen. */
export const unitSystem = useStorage<UnitSystem>('nublet.units', 'metric')
const units = shallowRef(new Map<string, ScreenUnit>())
let asked: Promise<void> | null = null

/** Ask the server once for every quantity's units; until they are there, metric is shown. */
export function loadUnits(): Promise<void> {
  asked ??= askOrKept('units', () => body(api.GET('/api/units'))).then(
    (found) => setUnits(found),
    () => {
      asked = null
    },
  )
  return asked
}

export function setUnits(found: readonly ScreenUnit[]): void {
  units.value = new Map(found.map((unit) => [unit.quantity, unit]))
}

const PLAIN: Omit<ScreenUnit, 'quantity'> = { metric: '', us: '', factor: 1, offset: 0 }

function unitOf(quantity: string): Omit<ScreenUnit, 'quantity'> {
  return units.value.get(quantity) ?? PLAIN
}

const PRICES = new Set(['price', 'price_per_l', 'price_per_m2'])
const currency = ref('')

/** The sign that the shop's prices carry; nothing until one is set under Bench. */
export function setCurrency(sign: string): void {
  currency.value = sign
}

/** The sign of a quantity's unit, such as "mL" or "fl oz"; of a price, the shop's currency before it. */
export function signOf(quantity: string): string {
  const sign = unitOf(quantity)[unitSystem.value]
  return PRICES.has(quantity) ? `${currency.value}${sign}` : sign
}

/** A metric value as it shows, to 12 digits, so that what was typed comes back. */
export function toScreen(quantity: string, metric: number): number {
  if (unitSystem.value === 'metric') return metric
  const unit = unitOf(quantity)
  return Number((metric * unit.factor + unit.offset).toPrecision(12))
}

/** What was typed, as a metric value. */
export function toMetric(quantity: string, shown: number): number {
  if (unitSystem.value === 'metric') return shown
  const unit = unitOf(quantity)
  return (shown - unit.offset) / unit.factor
}

/** How many digits after the point read well. */
function places(value: number): number {
  const size = Math.abs(value)
  if (size === 0 || size >= 100) return 0
  if (size >= 10) return 1
  if (size >= 1) return 2
  return Math.min(6, 1 - Math.floor(Math.log10(size)))
}

/** A number to read: three figures or so, money with two places, counts whole. */
export function figureOf(quantity: string, metric: number): string {
  const value = toScreen(quantity, metric)
  if (PRICES.has(quantity)) return value.toFixed(2)
  if (quantity === 'count') return value.toFixed(0)
  const text = value.toFixed(places(value))
  return text.includes('.') ? text.replace(/\.?0+$/, '') : text
}

/** A number to read, with its sign: "36.8 mL", "4.20 /m²". */
export function quantityOf(quantity: string, metric: number | null | undefined): string {
  if (metric == null) return '–'
  const sign = signOf(quantity)
  return `${figureOf(quantity, metric)}${sign && ' '}${sign}`
}

/** A number that was typed: a comma is a point, blank is null, anything else that is no number is undefined. */
export function readNumber(text: string): number | null | undefined {
  const plain = text.trim().replace(',', '.')
  if (plain === '') return null
  const value = Number(plain)
  return Number.isFinite(value) ? value : undefined
}

export type Piece = Schemas['Piece']

/** A sentence of the server's as it shows: its amounts in the person's units. */
export function said(pieces: readonly Piece[]): string {
  return pieces.map(pieceWords).join('')
}

function pieceWords({ text, quantity, value, is_bare }: Piece): string {
  if (quantity === null || value === null) return text
  const { metric, us } = unitOf(quantity)
  if (unitSystem.value === 'metric' || metric === us) return text
  return is_bare ? figureOf(quantity, value) : quantityOf(quantity, value)
}
showPiecesBy(said)
