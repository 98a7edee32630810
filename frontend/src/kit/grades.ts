/** How a grade is drawn: a ring with a mark whose area grows as the grade falls, always beside its digit. */

export const RING_RADIUS = 11

/** Radius of the mark in the ring for a grade or a mean, 1 (full) to 5 (empty). */
export function markRadius(grade: number): number {
  const held = Math.min(5, Math.max(1, grade))
  const share = (5 - held) / 4
  return share < 0.02 ? 0 : (RING_RADIUS - 1.5) * Math.sqrt(share)
}

/** The fill of the mark: the ramp's step nearest to the grade. */
export function markFill(grade: number): string {
  const step = Math.round(Math.min(5, Math.max(1, grade)))
  return `var(--grade-${step})`
}

/** A mean to one decimal; a whole grade without. */
export function gradeText(grade: number): string {
  return Number.isInteger(grade) ? String(grade) : grade.toFixed(1)
}
