import { responses } from '@/api/declared.json'

/** The scale of grades as the core declares it: its ends, its steps and their keys. */
export const GRADE = responses.grade

/** How a grade is drawn: a ring with a mark whose area grows as the grade falls, always beside its digit. */
export const RING_RADIUS = 11
/** Colours of the theme's ramp, --grade-1 for the worst to --grade-5 for the best. */
const RAMP = 5

/** How good a grade or a mean is: 0 at the worse end of the scale, 1 at the better. */
function goodness(grade: number): number {
  const share = (grade - GRADE.lowest) / (GRADE.highest - GRADE.lowest)
  const held = Math.min(1, Math.max(0, share))
  return GRADE.better === 'low' ? 1 - held : held
}

/** Radius of the mark in the ring for a grade or a mean, from the worst (full) to the best (empty). */
export function markRadius(grade: number): number {
  const share = 1 - goodness(grade)
  return share < 0.02 ? 0 : (RING_RADIUS - 1.5) * Math.sqrt(share)
}

/** The fill of the mark: the ramp's colour nearest to the grade. */
export function markFill(grade: number): string {
  return `var(--grade-${1 + Math.round((RAMP - 1) * goodness(grade))})`
}

/** A mean to one decimal; a whole grade without. */
export function gradeText(grade: number): string {
  return Number.isInteger(grade) ? String(grade) : grade.toFixed(1)
}
