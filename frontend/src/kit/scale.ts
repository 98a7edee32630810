/** Where a value stands on an axis, 0 to 100, held at its ends. */
export function place(value: number, from: number, to: number): number {
  const share = (value - from) / (to - from)
  return 100 * Math.min(1, Math.max(0, share))
}

/** A probability in words that never claim 0 or 100 % of what chance leaves open. */
export function percentText(share: number): string {
  if (share < 0.01) return '< 1 %'
  if (share > 0.99) return '> 99 %'
  return `${Math.round(100 * share)} %`
}

/** A p-value as it is usually printed. */
export function pText(p: number | null): string {
  if (p == null) return '–'
  return p < 0.001 ? '< 0.001' : p.toFixed(3)
}

export interface Tick {
  mm: number
  isLong: boolean
  label: string
}

/** The ticks of a rule along a panel: every centimetre with each 100 mm named, or every quarter inch with each 4 named. */
export function ruleTicks(lengthMm: number, system: 'metric' | 'us'): Tick[] {
  const rule =
    system === 'us'
      ? { step: 6.35, long: 4, named: 16, unit: 0.25 }
      : { step: 10, long: 5, named: 10, unit: 10 }
  return Array.from({ length: Math.floor(lengthMm / rule.step + 1e-9) + 1 }, (_, n) => ({
    mm: n * rule.step,
    isLong: n % rule.long === 0,
    label: n % rule.named === 0 ? String(n * rule.unit) : '',
  }))
}

/** A difference with its sign; what rounds to nothing has none. */
export function signedText(value: number, decimals = 2): string {
  const text = value.toFixed(decimals)
  if (Number(text) === 0) return text.replace('-', '')
  return value > 0 ? `+${text}` : text
}
