import type { Schemas } from '@/api/client'
import { words } from '@/api/declared.json'
import type { BuildUpDetail } from './model'

export type Kind = Schemas['FactorKindEnum']
export type Place = Schemas['OnEnum']
export type LevelDraft = Schemas['LevelRequest']
export interface FactorDraft {
  kind: Kind
  on: Place
  levels: LevelDraft[]
}
export interface CrossingDraft {
  factors: FactorDraft[]
  out: string[][]
  bare_at: string[]
}

export const FACTOR_WORDS: Record<Kind, string> = words.factor
/** In the order in which names are made of their levels. */
export const KINDS: readonly Kind[] = ['preparation', 'finish', 'coats', 'top']
export const MAX_FACTORS = 3

export function draftOfCrossing(
  crossing: Schemas['CrossingFields'],
  buildUps: readonly BuildUpDetail[],
): CrossingDraft {
  const factors = (crossing.factors ?? []).map(({ kind, on, levels }) => ({ kind, on, levels: [...levels] }))
  return {
    // What was chosen as candidates are the levels to begin with.
    factors: factors.length ? factors : [{ kind: 'finish', on: 'panels', levels: finishesOf(buildUps) }],
    out: (crossing.out ?? []).map((cell) => [...cell]),
    bare_at: [...(crossing.bare_at ?? [])],
  }
}

/** The trial's candidates as levels of the finish: what lies undermost in each. */
export function finishesOf(buildUps: readonly BuildUpDetail[]): LevelDraft[] {
  const found = new Map<string, LevelDraft>()
  for (const row of buildUps) {
    const layer = row.recipe?.layers[0]
    if (row.is_control || !layer) continue
    const name = layer.product == null ? row.name : (row.layers[0]?.name ?? row.name)
    found.set(name, { name, product: layer.product ?? null, family: layer.family ?? '' })
  }
  return [...found.values()]
}

export function factorOf(draft: CrossingDraft, kind: Kind): FactorDraft | undefined {
  return draft.factors.find((factor) => factor.kind === kind)
}

/** Add a level, or take it away if it is there; a factor without levels is none. */
export function toggleLevel(draft: CrossingDraft, kind: Kind, level: LevelDraft): void {
  let factor = factorOf(draft, kind)
  if (!factor) {
    factor = { kind, on: kind === 'coats' || kind === 'top' ? 'sections' : 'panels', levels: [] }
    // With and without is the usual question about a top.
    if (kind === 'top' && level.name !== 'nothing') factor.levels.push({ name: 'nothing' })
    draft.factors.push(factor)
    draft.factors.sort((a, b) => KINDS.indexOf(a.kind) - KINDS.indexOf(b.kind))
  }
  const at = factor.levels.findIndex((each) => each.name === level.name)
  if (at >= 0) factor.levels.splice(at, 1)
  else factor.levels.push(level)
  if (kind === 'coats') factor.levels.sort((a, b) => (a.coats ?? 0) - (b.coats ?? 0))
  if (!factor.levels.length) draft.factors.splice(draft.factors.indexOf(factor), 1)
  draft.bare_at = draft.bare_at.filter((name) =>
    factorOf(draft, 'preparation')?.levels.some((one) => one.name === name),
  )
  draft.out = []
}

/** On sections, or on panels of their own. */
export function togglePlace(draft: CrossingDraft, kind: Kind): void {
  const factor = factorOf(draft, kind)
  if (factor) factor.on = factor.on === 'sections' ? 'panels' : 'sections'
  draft.out = []
}

export interface GridSide {
  names: string[]
  /** The levels of each, by the place of their factor. */
  levels: Map<number, string>[]
}
/** Rows and columns of the grid: panels down and sections across, or the last factor on panels across. */
export function gridOf(draft: CrossingDraft): { rows: GridSide; columns: GridSide; bySection: boolean } {
  const places = draft.factors.map((factor, index) => ({ factor, index }))
  const sections = places.filter(({ factor }) => factor.on === 'sections')
  const panels = places.filter(({ factor }) => factor.on === 'panels')
  const across = sections.length ? sections : panels.length > 1 ? panels.slice(-1) : []
  const down = sections.length ? panels : panels.length > 1 ? panels.slice(0, -1) : panels
  return { rows: sideOf(down), columns: sideOf(across), bySection: sections.length > 0 }
}

function sideOf(places: { factor: FactorDraft; index: number }[]): GridSide {
  let levels: Map<number, string>[] = [new Map()]
  for (const { factor, index } of places)
    levels = levels.flatMap((before) => factor.levels.map((level) => new Map(before).set(index, level.name)))
  return { names: levels.map((each) => [...each.values()].join(' · ')), levels }
}

/** A cell by the names of its levels in the factors' order. */
export function cellOf(
  draft: CrossingDraft,
  row: Map<number, string>,
  column: Map<number, string>,
): string[] {
  return draft.factors.map((_, index) => row.get(index) ?? column.get(index) ?? '')
}

export function isOut(draft: CrossingDraft, cell: readonly string[]): boolean {
  return draft.out.some((each) => each.length === cell.length && each.every((name, i) => name === cell[i]))
}

/** Take cells out, or bring them back where all of them are out already. */
export function toggleCells(draft: CrossingDraft, cells: readonly string[][]): void {
  const areOut = cells.every((cell) => isOut(draft, cell))
  const kept = draft.out.filter((each) => !cells.some((cell) => cell.every((name, i) => name === each[i])))
  draft.out = areOut ? kept : [...kept, ...cells.map((cell) => [...cell])]
}

/** What the crossing comes to, in words. */
export function crossingWords(draft: CrossingDraft): string {
  const { rows, columns, bySection } = gridOf(draft)
  const cells = rows.levels.flatMap((row) =>
    (columns.names.length ? columns.levels : [new Map<number, string>()]).map((column) =>
      cellOf(draft, row, column),
    ),
  )
  const left = cells.filter((cell) => !isOut(draft, cell)).length
  const kept = (side: GridSide, cellsOf: (at: Map<number, string>) => string[][]) =>
    side.levels.filter((at) => cellsOf(at).some((cell) => !isOut(draft, cell))).length
  const nRows = kept(rows, (row) => columns.levels.map((column) => cellOf(draft, row, column)))
  const nColumns = kept(columns, (column) => rows.levels.map((row) => cellOf(draft, row, column)))
  const bare = draft.bare_at.length ? ` and ${draft.bare_at.length} bare` : ''
  return bySection
    ? `${nRows} build-ups${bare} × ${nColumns} sections of each panel: ${left} cells`
    : `${left} build-ups${bare}`
}
