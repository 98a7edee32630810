/** "Beech", "White oak", "All wood". */
export function speciesName(id: string): string {
  return id === 'all' ? 'All wood' : id.charAt(0).toUpperCase() + id.slice(1).replaceAll('-', ' ')
}

export function speciesChoices(ids: readonly string[]): { id: string; name: string }[] {
  return ids.map((id) => ({ id, name: speciesName(id) }))
}

/** Sections as choices: each is weighed by itself. */
export function sectionChoices(names: readonly string[]): { id: string; name: string }[] {
  return names.map((name) => ({ id: name, name }))
}
