import { flushPromises } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref } from 'vue'
import { api, body, Problem } from './client'
import { useLoaded } from './useLoaded'

describe('answers', () => {
  it('a refusal becomes a Problem in the server’s words', async () => {
    vi.stubGlobal(
      'fetch',
      vi.fn(async () =>
        Response.json(
          { status: 400, detail: 'Too short.', code: 'invalid', field: 'password' },
          { status: 400 },
        ),
      ),
    )
    const problem = await body(api.GET('/api/trials')).catch((error: unknown) => error)
    expect(problem).toMatchObject({ message: 'Too short.', code: 'invalid', field: 'password', status: 400 })
  })
  it('no answer is a Problem too', async () => {
    vi.stubGlobal(
      'fetch',
      vi.fn(async () => Promise.reject(new TypeError('cut'))),
    )
    const problem = await body(api.GET('/api/trials')).catch((error: unknown) => error)
    expect(problem).toBeInstanceOf(Problem)
    expect((problem as Problem).isOffline).toBe(true)
  })
  it('a late answer never overwrites a newer one', async () => {
    const asked = ref('slow')
    const answers: Record<string, (value: string) => void> = {}
    const loaded = effectScope().run(() =>
      useLoaded(() => new Promise<string>((done) => (answers[asked.value] = done)), [asked]),
    )
    asked.value = 'quick'
    await nextTick()
    answers.quick!('quick')
    await flushPromises()
    answers.slow!('slow')
    await flushPromises()
    expect(loaded?.data.value).toBe('quick')
  })
})
