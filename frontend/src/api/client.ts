import createClient, { type Middleware } from 'openapi-fetch'
import type { components, paths } from './schema'

export type Schemas = components['schemas']

/** A refusal in the server's words, or the lack of an answer. */
export class Problem extends Error {
  readonly status: number
  readonly code: string
  readonly field: string | null

  constructor(words: string, options: { status: number; code: string; field?: string | null }) {
    super(words)
    this.status = options.status
    this.code = options.code
    this.field = options.field ?? null
  }

  /** No answer came: the network is cut, or the server is down. */
  get isOffline(): boolean {
    return this.status === 0
  }

  get isSignedOut(): boolean {
    return this.status === 401
  }

  /** Somebody else has signed in, in another tab of this browser. */
  get isOtherPerson(): boolean {
    return this.code === 'other_person'
  }
}

/** A connection that hangs counts as cut after this long. */
const ANSWER_TIMEOUT_MS = 20_000
/** A photograph on a thin network. */
const FILE_TIMEOUT_MS = 180_000
const isFile = (request: Request) =>
  (request.headers.get('Content-Type') ?? '').startsWith('multipart/form-data')

type SignedOutListener = () => void
const signedOutListeners = new Set<SignedOutListener>()

/** Be told when an answer says that the sign-in has ended. */
export function onSignedOut(listener: SignedOutListener): void {
  signedOutListeners.add(listener)
}

function cookie(name: string): string {
  const found = document.cookie.split('; ').find((part) => part.startsWith(`${name}=`))
  return found ? decodeURIComponent(found.slice(name.length + 1)) : ''
}

let pageOf: number | null = null

/** Say whose page this is: each request carries it, and the server refuses what is another's. */
export function setPageOf(person: number | null): void {
  pageOf = person
}

const guard: Middleware = {
  onRequest({ request }) {
    if (pageOf !== null) request.headers.set('X-Nublet-Person', String(pageOf))
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', cookie('csrftoken'))
    return request
  },
  async onResponse({ response }) {
    if (response.ok) return response
    const problem = await readProblem(response)
    if (problem.isSignedOut || problem.isOtherPerson) for (const listener of signedOutListeners) listener()
    throw problem
  },
  onError({ error }) {
    if (error instanceof Problem) return error
    return new Problem('No answer from the server. Check the network; what you entered is kept.', {
      status: 0,
      code: 'offline',
    })
  },
}

let piecesWords = (pieces: readonly Schemas['Piece'][]): string => pieces.map((piece) => piece.text).join('')

/** Say how the pieces of a refusal are put into words: amounts show in the person's units. */
export function showPiecesBy(words: (pieces: readonly Schemas['Piece'][]) => string): void {
  piecesWords = words
}

/** What a refusal says. */
export async function readProblem(response: Response): Promise<Problem> {
  const body: unknown = await response.json().catch(() => null)
  const found = (body ?? {}) as Partial<Schemas['Problem']>
  const words = found.pieces ? piecesWords(found.pieces) : found.detail
  return new Problem(words ?? `The server failed (${response.status}). Try again in a moment.`, {
    status: response.status,
    code: found.code ?? 'error',
    field: found.field,
  })
}

export const api = createClient<paths>({
  baseUrl: globalThis.location?.origin ?? '',
  // Looked up at each call, so that tests can put their own in its place.
  fetch: (request) =>
    globalThis.fetch(request, {
      signal: AbortSignal.timeout(isFile(request) ? FILE_TIMEOUT_MS : ANSWER_TIMEOUT_MS),
    }),
})
api.use(guard)

/** The body of an answer; refusals have been thrown as Problem before this. */
export async function body<T>(answer: Promise<{ data?: T }>): Promise<T> {
  const { data } = await answer
  return data as T
}

/** Any error as words for a person. */
export function wordsOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error)
}
