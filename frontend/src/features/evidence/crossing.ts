import type { FactorLevels, LevelEvidence, PairEvidence, SystemEvidence, TestEvidence } from './model'

/** One cell of a crossing, or a margin. */
export interface CrossCell {
  system: string
  section: string
  mean: number | null
  low: number | null
  high: number | null
}
export interface Crossing {
  rowFactor: string
  columnFactor: string
  rows: string[]
  columns: string[]
  cells: (CrossCell | null)[][]
  rowMargins: LevelEvidence[]
  columnMargins: LevelEvidence[]
  columnPairs: PairEvidence[]
  rowPairs: PairEvidence[]
}

const ends = (ci: readonly number[] | null): [number | null, number | null] => [
  ci?.[0] ?? null,
  ci?.[1] ?? null,
]
const asLevel = (row: SystemEvidence): LevelEvidence => ({
  factor: 'build-up',
  level: row.system,
  mean: row.mean,
  se: row.se,
  ci: row.ci,
  letters: row.letters,
})

/** What a test crosses: build-ups with the sections on them, or the two factors of a whole crossing; null where it is a list. */
export function crossingOf(
  test: TestEvidence,
  factors: readonly FactorLevels[],
  sections: readonly string[] = [],
): Crossing | null {
  return test.sections ? ofSections(test, sections) : ofFactors(test, factors)
}

function ofSections(test: TestEvidence, declared: readonly string[]): Crossing | null {
  const own = test.sections
  if (!own) return null
  const columns = [...own.sections.levels].sort(
    (a, b) => declared.indexOf(a.level) - declared.indexOf(b.level),
  )
  // What lacks a section stands below, with what it has.
  const rows = [...test.systems.map(asLevel), ...own.set_aside.map(setAside)]
  return {
    rowFactor: 'build-up',
    columnFactor: 'section',
    rows: rows.map((row) => row.level),
    columns: columns.map((each) => each.level),
    cells: rows.map((row) =>
      columns.map((column) => {
        const cell = own.cells.find((each) => each.system === row.level && each.section === column.level)
        if (!cell) return null
        const [low, high] = ends(cell.ci)
        return { system: row.level, section: column.level, mean: cell.mean, low, high }
      }),
    ),
    rowMargins: rows,
    columnMargins: columns,
    rowPairs: test.pairs,
    columnPairs: own.sections.pairs,
  }
}

const setAside = (system: string): LevelEvidence => ({
  factor: 'build-up',
  level: system,
  mean: null,
  se: null,
  ci: null,
  letters: '',
})

function ofFactors(test: TestEvidence, factors: readonly FactorLevels[]): Crossing | null {
  if (test.margins.length !== 2) return null
  const [one, other] = test.margins
  if (!one || !other) return null
  // The factor with more levels goes down the side.
  const [rows, columns] = one.levels.length >= other.levels.length ? [one, other] : [other, one]
  const levelsOf = (name: string) =>
    new Map(
      (factors.find((each) => each.factor === name)?.systems ?? []).map((each) => [each.system, each.level]),
    )
  const rowOf = levelsOf(rows.factor)
  const columnOf = levelsOf(columns.factor)
  const declared = factors.find((each) => each.factor === columns.factor)?.levels ?? []
  const columnLevels = [...columns.levels].sort(
    (a, b) => declared.indexOf(a.level) - declared.indexOf(b.level),
  )
  return {
    rowFactor: rows.factor,
    columnFactor: columns.factor,
    rows: rows.levels.map((each) => each.level),
    columns: columnLevels.map((each) => each.level),
    cells: rows.levels.map((row) =>
      columnLevels.map((column) => {
        const found = test.systems.find(
          (each) => rowOf.get(each.system) === row.level && columnOf.get(each.system) === column.level,
        )
        if (!found) return null
        const [low, high] = ends(found.ci)
        return { system: found.system, section: '', mean: found.mean, low, high }
      }),
    ),
    rowMargins: rows.levels,
    columnMargins: columnLevels,
    rowPairs: rows.pairs,
    columnPairs: columns.pairs,
  }
}

/** How two levels of a margin stand to each other, in one of three words. */
export function verdictOf(pairs: readonly PairEvidence[], a: string, b: string): string {
  return pairs.find((pair) => (pair.a === a && pair.b === b) || (pair.a === b && pair.b === a))?.verdict ?? ''
}

/** Whether rows differ in what the columns do to them: the meeting of both, where it was tested. */
export function meetingOf(test: TestEvidence, crossing: Crossing): TestEvidence['effects'][number] | null {
  const names = test.sections
    ? ['system:section']
    : [`${crossing.rowFactor}:${crossing.columnFactor}`, `${crossing.columnFactor}:${crossing.rowFactor}`]
  return test.effects.find((each) => names.includes(each.effect)) ?? null
}
