import { defineStore } from 'pinia'
import { api, body, type Schemas } from '@/api/client'
import { useQueue, type Refused } from './queue'

export type Photograph = Schemas['Photograph']

/** A photograph on its way: what it is of, and the picture itself. */
export interface NewPhotograph {
  client_id: string
  judge?: number
  trial_id: number
  panel: string
  exposure: string
  place: number
  look: string
  at: string
  file: Blob
  name: string
}
export type RefusedPhotograph = Refused<NewPhotograph>

/** As the server has it (src/nublet/formats/photographs.py): told here, before anything is sent. */
export const MOST_BYTES = 25 * 1024 * 1024
export const TAKEN = 'image/jpeg,image/png,image/webp,image/heic,image/heif,.heic,.heif'

/** Why a file cannot be a photograph, as far as it shows from outside; empty where it may be one. */
export function whyNoPhotograph(file: Blob & { name?: string }): string {
  const name = file.name ?? 'The file'
  if (file.size === 0) return `${name} is empty.`
  if (file.size > MOST_BYTES)
    return `${name} has ${Math.round(file.size / 1e6)} MB; a photograph may have ${Math.round(MOST_BYTES / 1e6)}. Save it smaller, or as a JPEG.`
  if (file.type && !file.type.startsWith('image/'))
    return `${name} is no photograph. Choose a JPEG, PNG, WebP or HEIC file.`
  return ''
}

/** Photographs on their way to the server; they wait in this browser as everything else does. */
export const usePhotographQueue = defineStore('photographs', () =>
  useQueue<NewPhotograph, Photograph>('photographs', ({ trial_id, ...rest }) =>
    body(
      api.POST('/api/judging/{trial_id}/photographs', {
        params: { path: { trial_id } },
        // The document knows a file as a text; what is sent is the form below.
        body: { ...rest, file: '' },
        bodySerializer: () => asForm(rest),
      }),
    ),
  ),
)

function asForm(entry: Omit<NewPhotograph, 'trial_id'>): FormData {
  const form = new FormData()
  const { file, name, ...fields } = entry
  for (const [key, value] of Object.entries(fields)) form.append(key, String(value))
  form.append('file', file, name)
  return form
}
