import { grade_words, responses, words } from '@/api/declared.json'

/** A scale or a measure as the core declares it. */
export interface DeclaredResponse {
  name: string
  noun: string
  unit: string
  form: string
  better: string | null
  lowest: number | null
  highest: number | null
  step: number | null
  decimals: number
  unlikely: number[] | null
  instrument: string
  /** Which instrument can be read for it, and what it is called on its line. */
  line: string[] | null
  n_readings: number
  may_exceed: boolean
  /** Whether its steps can be drawn, to look up and to practise on. */
  is_drawn: boolean
  steps: DeclaredStep[]
}
export interface DeclaredStep {
  value: number
  key: string
  words: string
  says: string
}

const DECLARED = responses as unknown as Record<string, DeclaredResponse>
const UNKNOWN: DeclaredResponse = {
  name: 'Value', noun: 'value', unit: '', form: 'measure', better: null, lowest: null, highest: null, step: null,
  decimals: 4, unlikely: null, instrument: '', line: null, n_readings: 1, may_exceed: false, is_drawn: false, steps: [],
} // prettier-ignore

/** A response by its id; one that a newer server knows is a plain number here. */
export function responseOf(id: string): DeclaredResponse {
  return DECLARED[id] ?? UNKNOWN
}

/** Its name as it stands within a sentence: signs such as ΔE00 or L* keep their capitals. */
export function nameWithin(id: string): string {
  const { name } = responseOf(id)
  return name.slice(0, 1).toLowerCase() + name.slice(1)
}

/** The bench's own words for a grade, best first; each stands on the same axis. */
export const GRADE_WORDS: readonly DeclaredStep[] = grade_words

/** From where something is looked at, in words. */
export function viewWords(view: string): string {
  return (words.view as Record<string, string>)[view] ?? view
}

/** A value as it is told: a step's words, the kinds that it holds, or a number with its unit. */
export function valueWords(id: string, value: number, isBeyond = false): string {
  const response = responseOf(id)
  if (response.form === 'kinds') {
    const held = response.steps.filter((step) => value & step.value).map((step) => step.words.toLowerCase())
    return held.length ? held.join(', ') : 'none'
  }
  const step = response.steps.find((each) => Math.abs(each.value - value) < 1e-9)
  if (step) return response.form === 'scale' && id === 'grade' ? String(value) : step.words.toLowerCase()
  const number = String(Number(value.toFixed(response.decimals)))
  return `${isBeyond ? 'more than ' : ''}${number}${response.unit ? ` ${response.unit}` : ''}`
}

/** What stands for one response of one test in a ranking, in words: grades go by their test's name alone. */
export function keyWords(key: string, names: ReadonlyMap<string, string>): string {
  const [test = key, response] = key.split('/')
  const name = names.get(test) ?? test
  return response ? `${name}, ${nameWithin(response)}` : name
}

/** All that can be drawn, by id. */
export const DRAWN: readonly string[] = Object.keys(DECLARED).filter((id) => DECLARED[id]?.is_drawn)
