import type { Schemas } from '@/api/client'
import { kappaWords } from '@/kit/agreement'
import { responseOf, valueWords } from '@/kit/responses'

export type Drill = Schemas['Drill']
export type DrillLine = Schemas['DrillLine']
export type DrillResult = Schemas['DrillResult']

/** Which way the readings lean, in words. */
export function leanWords(result: DrillResult, response: string): string {
  const lean = result.lean_steps
  if (lean === null) return ''
  if (Math.abs(lean) < 0.15) return 'neither too kind nor too hard'
  const [up, down] = responseOf(response).better === null ? ['too high', 'too low'] : ['too kind', 'too hard']
  return `${lean > 0 ? up : down} by ${Math.abs(lean).toFixed(1)} of a step`
}

export function againWords(result: DrillResult): string {
  if (result.again_same_share === null) return ''
  const same = Math.round(result.again_same_share * result.n_again)
  return `${same} of ${result.n_again} read the same the second time`
}

/** The first mark that is not read yet, or null. */
export function nextMark(drill: Drill): number | null {
  return drill.marks.find((mark) => mark.read === null)?.nth ?? null
}

/** A value of a drill in words: a step with its digit, or kinds. */
export function markWords(response: string, value: number): string {
  const declared = responseOf(response)
  const step = declared.steps.find((each) => each.value === value)
  if (declared.form === 'kinds' || !step) return valueWords(response, value)
  return `${step.key} · ${step.words.toLowerCase()}`
}

export interface ProgressPoint {
  x: number
  y: number
  id: number
  words: string
}
/** The drills of one scale as points of a plot: one after the other, agreement upwards. What cannot be told has none. */
export function progressPoints(drills: readonly DrillLine[], width: number, height: number): ProgressPoint[] {
  const told = drills.filter((drill) => drill.result.kappa !== null)
  return told.map((drill, n) => ({
    id: drill.id,
    x: told.length === 1 ? width / 2 : (n / (told.length - 1)) * width,
    y: height * (1 - Math.max(0, Math.min(1, drill.result.kappa ?? 0))),
    words: `${new Date(drill.finished_at).toLocaleDateString()}: ${kappaWords(drill.result.kappa)}`,
  }))
}
