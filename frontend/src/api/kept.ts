import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import { Problem } from './client'

/**
 * What this browser keeps (IndexedDB): entries on their way to the server, and the last answers of the pages that must open without
 * one. Answers are kept by whose they are, and go when that person signs out or another signs in; entries stay until they were sent.
 */

/** An entry on its way; `says` is why the server refused it. */
export interface KeptEntry {
  client_id: string
  list: string
  n: number
  entry: unknown
  says?: string
}

interface Kept extends DBSchema {
  queue: { key: string; value: KeptEntry; indexes: { list: string } }
  answers: { key: string; value: unknown }
}

let opened: Promise<IDBPDatabase<Kept>> | null = null

async function base(): Promise<IDBPDatabase<Kept>> {
  opened ??= openDB<Kept>('nublet', 1, {
    upgrade(db) {
      db.createObjectStore('queue', { keyPath: 'client_id' }).createIndex('list', 'list')
      db.createObjectStore('answers')
    },
  })
  // A browser that keeps nothing now may do so later.
  opened.catch(() => (opened = null))
  return opened
}

/** The entries of one list, oldest first. */
export async function keptEntries(list: string): Promise<KeptEntry[]> {
  const found = await (await base()).getAllFromIndex('queue', 'list', list)
  return found.sort((a, b) => a.n - b.n)
}

/** Write an entry down; it is on the disk when this has come back. */
export async function keepEntry(kept: KeptEntry): Promise<void> {
  const writing = (await base()).transaction('queue', 'readwrite', { durability: 'strict' })
  await Promise.all([writing.store.put(kept), writing.done])
}

export async function forgetEntries(ids: readonly string[]): Promise<void> {
  const writing = (await base()).transaction('queue', 'readwrite')
  await Promise.all([...ids.map((id) => writing.store.delete(id)), writing.done])
}

let whose = 0

/** Say whose answers are kept from now on; those of everybody else go. */
export async function keepAnswersOf(person: number): Promise<void> {
  whose = person
  const own = `${person}|`
  const db = await base()
  for (const key of await db.getAllKeys('answers'))
    if (key !== SESSION && !key.startsWith(own)) await db.delete('answers', key)
}

/** Nothing that was answered is kept any more. */
export async function forgetAnswers(): Promise<void> {
  whose = 0
  await (await base()).clear('answers')
}

export const SESSION = 'session'

/** Whether an error means that no server was there to answer. */
export function isUnreachable(error: unknown): boolean {
  return error instanceof Problem && (error.isOffline || [502, 503, 504].includes(error.status))
}

/**
 * Ask, and keep the answer; when no server is there, what it answered last. An answer is kept by its person: another who signs in on
 * this browser finds none of it.
 */
export async function askOrKept<T>(name: string, ask: () => Promise<T>): Promise<T> {
  const key = name === SESSION ? SESSION : `${whose}|${name}`
  try {
    const found = await ask()
    // Whoever asked may have signed out meanwhile: then nothing of it stays.
    if (key === SESSION || key.startsWith(`${whose}|`)) void keepAnswer(key, found)
    return found
  } catch (error) {
    if (!isUnreachable(error)) throw error
    const kept = await base()
      .then((db) => db.get('answers', key))
      .catch(() => undefined)
    if (kept === undefined) throw error
    return kept as T
  }
}

/** What is kept under a name, or undefined. */
export async function keptAnswer<T>(name: string): Promise<T | undefined> {
  return base()
    .then((db) => db.get('answers', `${whose}|${name}`) as Promise<T | undefined>)
    .catch(() => undefined)
}

/** Keep something that goes with an answer. */
export async function keepBeside(name: string, what: unknown): Promise<void> {
  await keepAnswer(`${whose}|${name}`, what)
}

async function keepAnswer(key: string, answer: unknown): Promise<void> {
  try {
    await (await base()).put('answers', answer, key)
  } catch {
    // A full disk keeps no answers; the page works as long as the server is there.
  }
}
