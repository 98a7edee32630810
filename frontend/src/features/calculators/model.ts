import type { Schemas } from '@/api/client'

export type Calculator = Schemas['Calculator']
export type CalculatorInput = Schemas['CalculatorInput']
export type Column = Schemas['Column']
export type Answer = Schemas['Answer']
export type Row = Record<string, number | string | null>
export type Values = Record<string, number | string | null | Row[]>

/** What a fresh calculator holds. */
export function defaultsOf(calculator: Calculator): Values {
  const fresh = Object.fromEntries(calculator.inputs.map((input) => [input.name, input.default]))
  return JSON.parse(JSON.stringify(fresh)) as Values
}

/** A number is asked only where the choice that it belongs to has been made. */
export function isAsked(input: CalculatorInput, values: Values): boolean {
  const [name, value] = input.shown_when ?? []
  return name === undefined || values[name] === value
}

/** A row to add to a table: the columns' own defaults. */
export function blankRow(input: CalculatorInput): Row {
  return Object.fromEntries(input.columns.map((column) => [column.name, column.default as Row[string]]))
}

/** What a calculator of before holds, where it still fits what it asks today. */
export function restore(calculator: Calculator, kept: Values | undefined): Values {
  const fresh = defaultsOf(calculator)
  for (const name of Object.keys(fresh)) if (kept && name in kept) fresh[name] = kept[name] ?? null
  return fresh
}

/** The first number that is still blank, in words; null when all are there. */
export function missingNumber(calculator: Calculator, values: Values): string | null {
  for (const input of calculator.inputs.filter((one) => isAsked(one, values))) {
    const value = values[input.name]
    if (input.kind === 'number' && value === null) return `${input.label}: fill in a number.`
    if (!Array.isArray(value)) continue
    for (const [index, row] of value.entries())
      for (const column of input.columns)
        if (column.kind === 'number' && row[column.name] === null)
          return `${input.label}, row ${index + 1}: fill in ${column.label.toLowerCase()}.`
  }
  return null
}
