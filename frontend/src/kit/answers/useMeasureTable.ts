import { computed, ref, watch, type Ref } from 'vue'
import { api, body, wordsOf } from '@/api/client'
import { responseOf } from '@/kit/responses'
import { readNumber } from '@/kit/units'
import type { Ask } from './ask'
import { isUnlikely, meanOf, MOST_SINGLES, whyNot } from './singles'

export interface Measured {
  value: number
  singles: number[]
  isBeyond: boolean
}

/** Several readings of what one instrument gives at once: a row a reading, a column a value. */
export function useMeasureTable(
  asks: () => readonly Ask[],
  at: () => string,
  keep: (values: Measured[]) => void,
) {
  const declared = computed(() => asks().map((ask) => responseOf(ask.response)))
  const wanted = computed(() => Math.max(1, ...declared.value.map((each) => each.n_readings)))
  const rows: Ref<string[][]> = ref([])
  const beyond = ref(false)
  const says = ref('')
  const isBusy = ref(false)
  /** What was asked about and is to be kept as it is when it comes again. */
  let asked = ''

  watch(
    at,
    () => {
      rows.value = fill(
        asks().map((ask) =>
          ask.singles?.length ? ask.singles.map(String) : ask.value == null ? [] : [String(ask.value)],
        ),
        wanted.value,
      )
      beyond.value = asks().some((ask) => ask.is_beyond)
      says.value = ''
      asked = ''
    },
    { immediate: true },
  )

  const numbers = computed(() => rows.value.map((row) => row.map((cell) => readNumber(cell))))
  const whole = computed(() =>
    numbers.value.filter((row): row is number[] => row.length > 0 && row.every((cell) => cell != null)),
  )
  const means = computed(() =>
    whole.value.length
      ? declared.value.map((each, column) =>
          meanOf(
            whole.value.map((row) => row[column] ?? 0),
            each.decimals,
          ),
        )
      : [],
  )

  function put(row: number, column: number, cell: string): void {
    rows.value = rows.value.map((own, n) =>
      n === row ? own.map((old, k) => (k === column ? cell : old)) : own,
    )
    says.value = ''
  }
  function more(): void {
    if (rows.value.length < MOST_SINGLES) rows.value = [...rows.value, declared.value.map(() => '')]
  }
  /** The next cell that is empty, or null. */
  function nextEmpty(): [number, number] | null {
    for (const [n, row] of rows.value.entries())
      for (const [k, cell] of row.entries()) if (!cell.trim()) return [n, k]
    return null
  }

  /** Why it cannot be kept yet; empty where it can. */
  function problem(): string {
    for (const [n, row] of rows.value.entries()) {
      const cells = row.map((cell) => cell.trim())
      if (cells.every((cell) => !cell)) continue
      for (const [k, cell] of cells.entries()) {
        const response = declared.value[k]
        const value = readNumber(cell)
        if (!response) continue
        if (!cell) return `Reading ${n + 1} has no ${response.noun}.`
        if (value == null) return `Reading ${n + 1}: “${cell}” is no number.`
        const why = whyNot(value, response)
        if (why) return `Reading ${n + 1}: ${why}`
      }
    }
    return whole.value.length ? '' : 'Nothing is measured yet.'
  }
  /** What is unusual and is asked about once; empty for nothing. */
  function unusual(): string {
    for (const [n, row] of whole.value.entries())
      for (const [k, value] of row.entries()) {
        const response = declared.value[k]
        if (response && isUnlikely(value, response))
          return `Reading ${n + 1}: ${value} is unusual for ${response.noun}. Look again; keep it once more if it is so.`
      }
    return whole.value.length < wanted.value
      ? `${whole.value.length} of ${wanted.value} readings. Keep it once more to go with fewer.`
      : ''
  }
  function keepAll(): void {
    says.value = problem()
    if (says.value) return
    const question = unusual()
    const now = `${question} ${JSON.stringify(rows.value)}`
    if (question && asked !== now) {
      asked = now
      says.value = question
      return
    }
    keep(
      means.value.map((mean, column) => ({
        value: mean.value,
        singles: whole.value.length > 1 ? whole.value.map((row) => row[column] ?? 0) : [],
        isBeyond: beyond.value && (declared.value[column]?.may_exceed ?? false),
      })),
    )
  }

  const instrument = computed(() => declared.value[0]?.line?.[0] ?? '')
  /** One reading of the instrument, into the first row that is empty. */
  async function read(): Promise<void> {
    if (isBusy.value || !instrument.value) return
    isBusy.value = true
    const begun = at()
    try {
      const found = await body(
        api.POST('/api/instruments/{kind}/reading', { params: { path: { kind: instrument.value } } }),
      )
      if (at() !== begun) return
      const cells = declared.value.map((each) => String(found.values[each.line?.[1] ?? ''] ?? ''))
      let row = rows.value.findIndex((own) => own.every((cell) => !cell.trim()))
      if (row < 0) {
        more()
        row = rows.value.length - 1
      }
      rows.value = rows.value.map((own, n) => (n === row ? cells : own))
      says.value = ''
    } catch (error) {
      says.value = wordsOf(error)
    } finally {
      isBusy.value = false
    }
  }

  return {
    rows,
    beyond,
    says,
    isBusy,
    declared,
    wanted,
    means,
    instrument,
    put,
    more,
    nextEmpty,
    keepAll,
    read,
  }
}

function fill(columns: readonly string[][], wanted: number): string[][] {
  const n = Math.max(wanted, ...columns.map((column) => column.length))
  return Array.from({ length: n }, (_, row) => columns.map((column) => column[row] ?? ''))
}
