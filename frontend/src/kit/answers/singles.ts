import type { DeclaredResponse } from '@/kit/responses'

/** What single readings make, as the core does it (src/nublet/core/measuring/singles.py). */
export function meanOf(
  singles: readonly number[],
  decimals: number,
): { value: number; spread: number | null } {
  const mean = singles.reduce((sum, each) => sum + each, 0) / singles.length
  const square = singles.reduce((sum, each) => sum + (each - mean) ** 2, 0)
  return {
    value: Number(mean.toFixed(decimals)),
    spread: singles.length > 1 ? Number(Math.sqrt(square / (singles.length - 1)).toFixed(4)) : null,
  }
}

/** More than a patient hand takes of one spot. */
export const MOST_SINGLES = 20

/** Why a single reading cannot be; empty where it can. */
export function whyNot(value: number, response: DeclaredResponse): string {
  const { lowest, highest, unit, noun } = response
  const isOff = (lowest != null && value < lowest) || (highest != null && value > highest)
  return isOff ? `${noun} ${value} cannot be: ${lowest} to ${highest}${unit ? ` ${unit}` : ''}.` : ''
}

/** Whether it can be and is so far out that it is asked about. */
export function isUnlikely(value: number, response: DeclaredResponse): boolean {
  const [low, high] = response.unlikely ?? []
  return low !== undefined && high !== undefined && (value < low || value > high)
}
