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
