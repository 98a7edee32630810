import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope } from 'vue'
import PaperProgress from './PaperProgress.vue'
import { usePaper, type Job } from './papers'

const job = (more: Partial<Job> = {}): Job => ({
  id: 7,
  says: 'Panel labels of Saloon tables',
  state: 'waiting',
  n_done: 0,
  n_all: 0,
  is_stop_asked: false,
  trouble: '',
  ...more,
})
const json = (found: unknown, status = 200): Response =>
  new Response(JSON.stringify(found), { status, headers: { 'Content-Type': 'application/json' } })

let answers: (() => Response)[] = []
const asked: string[] = []
const saved: string[] = []

beforeEach(() => {
  vi.useFakeTimers()
  asked.length = saved.length = 0
  vi.stubGlobal(
    'fetch',
    vi.fn(async (request: Request | string) => {
      asked.push(typeof request === 'string' ? `GET ${request}` : `${request.method} ${request.url}`)
      const next = answers.shift()
      if (!next) throw new TypeError('cut')
      return next()
    }),
  )
  URL.createObjectURL = () => 'blob:1'
  URL.revokeObjectURL = () => undefined
  vi.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (this: HTMLAnchorElement) {
    saved.push(this.download)
  })
})
afterEach(() => {
  vi.useRealTimers()
  vi.restoreAllMocks()
})

async function pass(ms: number): Promise<void> {
  await vi.advanceTimersByTimeAsync(ms)
  await flushPromises()
}
function paper() {
  const scope = effectScope()
  return { ...scope.run(usePaper)!, leave: () => scope.stop() }
}

describe('a paper', () => {
  it('is followed until it is ready, over a cut network, and saved under its name', async () => {
    const file = new Response('%PDF', {
      headers: { 'Content-Disposition': 'attachment; filename="saloon-tables-labels.pdf"' },
    })
    answers = [
      () => json(job({ state: 'running', n_done: 8, n_all: 14 })),
      () => {
        throw new TypeError('cut')
      },
      () => json(job({ state: 'done', n_done: 14, n_all: 14 })),
      () => file,
    ]
    const { make, job: shown, isAsking } = paper()
    const made = make(async () => job())
    await pass(300)
    expect(shown.value?.n_done).toBe(8)
    await pass(5000)
    await made
    expect(saved).toEqual(['saloon-tables-labels.pdf'])
    expect(asked.at(-1)).toBe('GET /api/jobs/7/file')
    expect([isAsking.value, shown.value]).toEqual([false, null])
  })
  it('says why there is none', async () => {
    answers = [() => json(job({ state: 'failed', trouble: 'This board has no panels to print.' }))]
    const { make, trouble } = paper()
    const made = make(async () => job())
    await pass(300)
    await made
    expect(trouble.value).toBe('This board has no panels to print.')
    expect(saved).toEqual([])
  })
  it('can be stopped, and saves nothing then', async () => {
    answers = [
      () => json(job({ is_stop_asked: true, state: 'running' })),
      () => json(job({ state: 'stopped' })),
    ]
    const { make, stop, job: shown, trouble } = paper()
    const made = make(async () => job())
    await pass(0)
    await stop()
    expect(shown.value?.is_stop_asked).toBe(true)
    expect(asked[0]).toMatch(/^DELETE .*\/api\/jobs\/7$/)
    await pass(300)
    await made
    expect([saved, trouble.value]).toEqual([[], ''])
  })
  it('is not saved on a page that was left', async () => {
    answers = [() => json(job({ state: 'done' }))]
    const { make, leave } = paper()
    const made = make(async () => job())
    leave()
    await pass(300)
    await made
    expect(saved).toEqual([])
  })
})

describe('its progress', () => {
  const words = (shown: Job | null): string =>
    mount(PaperProgress, { props: { job: shown, isAsking: true, trouble: '' } })
      .find('[role=status]')
      .text()

  it('is told in words', async () => {
    expect(words(null)).toBe('Asking…')
    expect(words(job())).toContain('waits for its turn')
    expect(words(job({ state: 'running' }))).toContain('being drawn')
    expect(words(job({ state: 'running', n_done: 8, n_all: 14 }))).toContain('page 8 of 14')
    expect(words(job({ is_stop_asked: true }))).toBe('Stopping…')
    const shown = mount(PaperProgress, { props: { job: job(), isAsking: true, trouble: '' } })
    await shown.find('button').trigger('click')
    expect(shown.emitted('stop')).toHaveLength(1)
  })
})
