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
  /** Of three factors the levels that stand over the columns, each over so many. */
  over: { level: string; span: number }[]
  /** Of three factors those across, each level over all else. */
  across: { factor: string; levels: LevelEvidence[] }[]
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
    over: [],
    across: [],
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
  if (test.margins.length !== 2 && test.margins.length !== 3) return null
  // The factor with most levels goes down the side, the others across in the levels' own order.
  const [rows, ...others] = [...test.margins].sort((a, b) => b.levels.length - a.levels.length)
  const [outer, inner] = others.map((each) => inOrder(each, factors))
  if (!rows || !outer) return null
  const names = [rows.factor, outer.factor, ...(inner ? [inner.factor] : [])]
  const levelsOf = names.map(
    (name) =>
      new Map(factors.find((each) => each.factor === name)?.systems.map((each) => [each.system, each.level])),
  )
  const columns = outer.levels.flatMap((one) =>
    inner ? inner.levels.map((other) => [one.level, other.level]) : [[one.level]],
  )
  return {
    rowFactor: rows.factor,
    columnFactor: names.slice(1).join(' × '),
    rows: rows.levels.map((each) => each.level),
    columns: columns.map((levels) => levels.at(-1) ?? ''),
    cells: rows.levels.map((row) =>
      columns.map((column) => {
        const wanted = [row.level, ...column]
        const found = test.systems.find((each) =>
          wanted.every((level, at) => levelsOf[at]?.get(each.system) === level),
        )
        if (!found) return null
        const [low, high] = ends(found.ci)
        return { system: found.system, section: '', mean: found.mean, low, high }
      }),
    ),
    rowMargins: rows.levels,
    columnMargins: inner ? [] : outer.levels,
    rowPairs: rows.pairs,
    columnPairs: inner ? [] : outer.pairs,
    over: inner ? outer.levels.map((each) => ({ level: each.level, span: inner.levels.length })) : [],
    across: inner ? [outer, inner] : [],
  }
}

type Margin = TestEvidence['margins'][number]

function inOrder(margin: Margin, factors: readonly FactorLevels[]): Margin {
  const declared = factors.find((each) => each.factor === margin.factor)?.levels ?? []
  const levels = [...margin.levels].sort((a, b) => declared.indexOf(a.level) - declared.indexOf(b.level))
  return { ...margin, levels }
}

/** How two levels of a margin stand to each other, in one of three words. */
export function verdictOf(pairs: readonly PairEvidence[], a: string, b: string): string {
  return pairs.find((pair) => (pair.a === a && pair.b === b) || (pair.a === b && pair.b === a))?.verdict ?? ''
}

/** Whether rows differ in what the columns do to them, each meeting of factors that was tested; of three the clear ones first. */
export function meetingsOf(test: TestEvidence): TestEvidence['effects'] {
  return test.effects.filter((each) => each.effect.includes(':')).sort((a, b) => a.p - b.p)
}
