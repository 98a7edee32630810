import type { Schemas } from '@/api/client'

type Photograph = Schemas['Photograph']

/** Photographs of one place, in the order of its looks and then as they were taken: what may be held against each other. */
export function inOrder(found: readonly Photograph[]): Photograph[] {
  return [...found].sort(
    (a, b) => a.nth_look - b.nth_look || Date.parse(a.taken_at) - Date.parse(b.taken_at) || a.id - b.id,
  )
}

/** What a photograph shows, in words. */
export function photographWords(each: Photograph, testName = ''): string {
  return [each.panel, testName || (each.exposure === '' ? 'whole panel' : each.exposure), each.look_name]
    .filter(Boolean)
    .join(', ')
}

/** Where a photograph is shown from. */
export function photographAddress(id: number, size: 'full' | 'view' | 'thumb'): string {
  return `/api/photographs/${id}/${size}`
}
