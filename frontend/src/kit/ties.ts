export interface TieBar {
  letter: string
  /** Indices of the first and last row that the bar reaches over. */
  first: number
  last: number
  /** Rows that belong; the bar is solid beside these and a thin line past the others. */
  rows: number[]
}

/** One bar for each letter that at least two rows share; a lone letter ties nothing. */
export function tieBars(letters: readonly string[]): TieBar[] {
  const rows = new Map<string, number[]>()
  letters.forEach((shown, index) => {
    for (const letter of shown.match(/[a-zA-Z]'*/g) ?? [])
      rows.set(letter, [...(rows.get(letter) ?? []), index])
  })
  return [...rows]
    .filter(([, members]) => members.length > 1)
    .map(([letter, members]) => ({
      letter,
      rows: members,
      first: Math.min(...members),
      last: Math.max(...members),
    }))
    .sort((a, b) => a.first - b.first || a.last - b.last)
}
