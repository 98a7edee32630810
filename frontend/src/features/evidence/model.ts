import type { Schemas } from '@/api/client'

export type TestEvidence = Schemas['TestEvidence']
export type SystemEvidence = Schemas['SystemEvidence']

export interface EvidenceRow {
  system: string
  isControl: boolean
  /** One cell a test, in the order of the tests; null where the build-up has no value. */
  cells: (SystemEvidence | null)[]
}

/** The build-ups as rows, in the order of the chosen test's means, best first. */
export function evidenceRows(tests: readonly TestEvidence[], chosen: string, control: string): EvidenceRow[] {
  const order =
    (tests.find((test) => test.test === chosen) ?? tests[0])?.systems.map((row) => row.system) ?? []
  const others = tests.flatMap((test) => test.systems.map((row) => row.system))
  return [...new Set([...order, ...others])].map((system) => ({
    system,
    isControl: system === control,
    cells: tests.map((test) => test.systems.find((row) => row.system === system) ?? null),
  }))
}

/** Pairs in words' order: those told apart first, the largest difference first. */
export function sortedPairs(test: TestEvidence): TestEvidence['pairs'] {
  return [...test.pairs].sort(
    (a, b) =>
      Number(b.told_apart ?? false) - Number(a.told_apart ?? false) ||
      Math.abs(b.difference) - Math.abs(a.difference),
  )
}
