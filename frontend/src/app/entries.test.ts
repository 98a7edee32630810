import 'fake-indexeddb/auto'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick } from 'vue'
import { forgetEntries, keepEntry, keptEntries } from '@/api/kept'
import { useEntries, type BenchEntry } from './entries'
import { draftKey, keptDrafts, useSession } from './session'

const entry = (id: string): BenchEntry => ({
  client_id: id,
  trial_id: 1,
  panel: 'K7',
  exposure: 'wine-1h',
  look: '24h',
  kind: 'grade',
  grade: 4,
})

const PERSON = {
  id: 3,
  username: 'imara',
  display_name: 'Imara',
  role: 'judge',
  shop: 'Tarn Yard',
  currency: '€',
  keeps_key: false,
} as const

const ok = () => Response.json({ grade: 4, note: '' })
const refusal = (status: number) =>
  Response.json({ status, detail: 'Not on the scale.', code: 'x', field: null }, { status })

function open(fetch: () => Promise<Response>) {
  vi.stubGlobal('fetch', vi.fn(fetch))
  const saved: string[] = []
  const queue = useEntries()
  effectScope().run(() => queue.listen((done) => saved.push(done.client_id)))
  return { queue, saved }
}

/** Let everything that is on its way come to its end: each step of the store takes a turn of the loop. */
async function settle(): Promise<void> {
  for (let turn = 0; turn < 80; turn++) await new Promise((done) => setTimeout(done, 0))
  await nextTick()
}

async function idsKept(person: number): Promise<string[]> {
  return (await keptEntries(`entries.${person}`)).map((kept) => kept.client_id)
}

describe('the entry queue', () => {
  beforeEach(async () => {
    localStorage.clear()
    for (const person of [3, 9]) await forgetEntries(await idsKept(person))
    setActivePinia(createPinia())
    useSession().person = { ...PERSON }
  })

  it('sends in order and empties itself', async () => {
    const { queue, saved } = open(async () => ok())
    queue.add(entry('one'))
    queue.add(entry('two'))
    expect(queue.status).toBe('saving')
    await settle()
    expect(saved).toEqual(['one', 'two'])
    expect(queue.status).toBe('saved')
  })

  it('keeps everything when the network is cut, in storage too, and goes on when it is back', async () => {
    let isCut = true
    const { queue, saved } = open(async () => {
      if (isCut) throw new TypeError('network')
      return ok()
    })
    queue.add(entry('one'))
    queue.add(entry('two'))
    await settle()
    expect(queue.status).toBe('kept')
    expect(await idsKept(3)).toEqual(['one', 'two'])
    isCut = false
    await queue.flush()
    expect(saved).toEqual(['one', 'two'])
    await settle()
    expect(await idsKept(3)).toEqual([])
  })

  it('waits through an ended sign-in', async () => {
    const { queue, saved } = open(async () => refusal(401))
    queue.add(entry('one'))
    await settle()
    expect(useSession().hasExpired).toBe(true)
    expect(queue.status).toBe('kept')
    vi.stubGlobal(
      'fetch',
      vi.fn(async () => ok()),
    )
    useSession().hasExpired = false
    await settle()
    expect(saved).toEqual(['one'])
  })

  it('sets a refused entry aside with its reason and goes on with the rest', async () => {
    const answers = [refusal(400), ok()]
    const { queue, saved } = open(async () => answers.shift() ?? ok())
    queue.add(entry('bad'))
    queue.add(entry('good'))
    await settle()
    expect(saved).toEqual(['good'])
    expect(queue.refused.map((item) => [item.entry.client_id, item.says])).toEqual([
      ['bad', 'Not on the scale.'],
    ])
  })

  it('drops nothing when another tab has sent the same entry and shortened the list', async () => {
    let answer: ((response: Response) => void) | undefined
    const { queue, saved } = open(() =>
      answer ? Promise.resolve(ok()) : new Promise((done) => (answer = done)),
    )
    queue.add(entry('one'))
    queue.add(entry('two'))
    await settle()
    queue.waiting = [entry('two')]
    answer?.(ok())
    await settle()
    expect(saved).toEqual(['one', 'two'])
  })

  it('tries again after a fault of the server', async () => {
    const answers = [refusal(500), ok()]
    const { queue, saved } = open(async () => answers.shift() ?? ok())
    queue.add(entry('one'))
    await settle()
    expect(saved).toEqual([])
    await queue.flush()
    expect(saved).toEqual(['one'])
  })

  it('keeps an entry whose page is not the one that is signed in, and asks to sign in again', async () => {
    const refused = Response.json(
      { status: 409, detail: 'Nell is signed in.', code: 'other_person', field: null },
      { status: 409 },
    )
    const { queue, saved } = open(async () => refused.clone())
    queue.add(entry('one'))
    await settle()
    expect([saved, queue.refused, queue.status]).toEqual([[], [], 'kept'])
    expect(useSession().hasExpired).toBe(true)
    const sent = vi.mocked(fetch).mock.calls[0]?.[0] as Request
    expect(sent.headers.get('X-Nublet-Person')).toBe('3')
  })

  it('forgets one person’s drafts at sign-out, and nobody else’s', async () => {
    localStorage.setItem(draftKey(3, 'question.1'), 'mine')
    localStorage.setItem(draftKey(30, 'question.1'), 'theirs')
    open(async () => new Response(null, { status: 204 }))
    expect(keptDrafts(3)).toEqual(['nublet.draft.3.question.1'])
    await useSession().signOut()
    expect([keptDrafts(3), keptDrafts(30).length]).toEqual([[], 1])
  })

  it('never sends what another person entered in this browser', async () => {
    await keepEntry({ client_id: 'theirs', list: 'entries.9', n: 1, entry: entry('theirs') })
    const { queue } = open(async () => ok())
    await settle()
    expect(queue.waiting).toEqual([])
    expect(fetch).not.toHaveBeenCalled()
  })

  it('takes over what the last release kept in another place', async () => {
    localStorage.setItem('nublet.entries.3', JSON.stringify([entry('old one'), entry('old two')]))
    const { saved } = open(async () => ok())
    await settle()
    expect(saved).toEqual(['old one', 'old two'])
    expect(localStorage.getItem('nublet.entries.3')).toBeNull()
  })

  it('keeps what was refused until the person has seen it', async () => {
    const { queue } = open(async () => refusal(400))
    queue.add(entry('bad'))
    await settle()
    setActivePinia(createPinia())
    useSession().person = { ...PERSON }
    const again = open(async () => ok())
    await settle()
    expect(again.queue.refused.map((each) => each.entry.client_id)).toEqual(['bad'])
    expect(again.saved).toEqual([])
    again.queue.forgetRefused()
    await settle()
    expect(await idsKept(3)).toEqual([])
  })

  it('sends what an earlier visit left, on any page, and each person their own', async () => {
    await keepEntry({ client_id: 'left', list: 'entries.3', n: 1, entry: entry('left') })
    await keepEntry({ client_id: 'theirs', list: 'entries.9', n: 2, entry: entry('theirs') })
    const { saved } = open(async () => ok())
    await settle()
    expect(saved).toEqual(['left'])
    const session = useSession()
    if (session.person) session.person = { ...session.person, id: 9 }
    await settle()
    expect(saved).toEqual(['left', 'theirs'])
  })
})
