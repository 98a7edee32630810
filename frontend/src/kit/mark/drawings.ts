import { api, body, type Schemas } from '@/api/client'
import { askOrKept } from '@/api/kept'

/** The drawings of a scale's steps; kept, so that they are there without a server. */
export function drawingsOf(scale: string): Promise<Schemas['StepDrawing'][]> {
  return askOrKept(`drawings ${scale}`, () =>
    body(api.GET('/api/practice/drawings/{scale}', { params: { path: { scale } } })),
  )
}
