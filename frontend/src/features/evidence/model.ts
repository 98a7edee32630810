import type { Schemas } from '@/api/client'

export type TestEvidence = Schemas['TestEvidence']
export type SystemEvidence = Schemas['SystemEvidence']
export type FactorLevels = Schemas['FactorLevels']
export type PairEvidence = Schemas['PairEvidence']
export type LevelEvidence = Schemas['LevelEvidence']

/** As much of a test as is needed to draw a build-up in it. */
export type ShownTest = Pick<TestEvidence, 'test' | 'section' | 'told_as' | 'ladder' | 'systems'>

/** What tells a test from the others on the page: itself, and where sections are weighed one by one the section. */
export const keyOf = (test: { test: string; section?: string | null }) =>
  test.section ? `${test.test}|${test.section}` : test.test

/** A test by its name, and where sections are weighed one by one the section. */
export function titleOf(
  names: ReadonlyMap<string, string>,
  test: { test: string; section?: string | null },
): string {
  const name = names.get(test.test) ?? test.test
  return test.section ? `${name}, ${test.section}` : name
}

export interface EvidenceRow {
  system: string
  isControl: boolean
  isBenchmark?: boolean
  /** The level that this row and those below it have, on the first of them. */
  heading?: string
  /** One cell a test, in the order of the tests; null where the build-up has no value. */
  cells: (SystemEvidence | null)[]
}

/** The build-ups as rows, in the order of the chosen test's means, best first. */
export function evidenceRows(
  tests: readonly ShownTest[],
  chosen: string,
  control: string,
  benchmarks: readonly string[] = [],
): EvidenceRow[] {
  const order =
    (tests.find((test) => keyOf(test) === chosen) ?? tests[0])?.systems.map((row) => row.system) ?? []
  const others = tests.flatMap((test) => test.systems.map((row) => row.system))
  const rows: EvidenceRow[] = [...new Set([...order, ...others])].map((system) => ({
    system,
    isControl: system === control,
    isBenchmark: benchmarks.includes(system),
    cells: tests.map((test) => test.systems.find((row) => row.system === system) ?? null),
  }))
  return setApart(rows)
}

/** What is compared first; the benchmarks and bare wood beside it, under a heading of their own. */
function setApart(rows: readonly EvidenceRow[]): EvidenceRow[] {
  const isApart = (row: EvidenceRow) => row.isControl || row.isBenchmark
  const own = rows.filter((row) => !isApart(row))
  const apart = [
    ...rows.filter((row) => row.isBenchmark && !row.isControl),
    ...rows.filter((row) => row.isControl),
  ]
  if (!own.length || !apart.some((row) => row.isBenchmark)) return [...own, ...apart]
  return [...own, ...apart.map((row, at) => (at ? row : { ...row, heading: 'To compare with' }))]
}

/** Rows put together by the levels of one factor, in the levels' order; what has none comes last. */
export function groupedRows(rows: readonly EvidenceRow[], factor: FactorLevels | undefined): EvidenceRow[] {
  if (!factor) return [...rows]
  const levelOf = new Map(factor.systems.map((each) => [each.system, each.level]))
  const groups = [...factor.levels, undefined].map((level) =>
    rows.filter((row) => levelOf.get(row.system) === level),
  )
  return groups.flatMap((group, at) =>
    group.map((row, first) => (first ? row : { ...row, heading: factor.levels[at] ?? 'Beside them' })),
  )
}

const VERDICTS: readonly PairEvidence['verdict'][] = ['told apart', 'open', 'alike']

/** Pairs in words' order: those told apart first, then what is open, the largest difference first. */
export function sortedPairs(pairs: readonly PairEvidence[]): PairEvidence[] {
  return [...pairs].sort(
    (a, b) =>
      VERDICTS.indexOf(a.verdict) - VERDICTS.indexOf(b.verdict) ||
      Math.abs(b.difference ?? 0) - Math.abs(a.difference ?? 0),
  )
}
