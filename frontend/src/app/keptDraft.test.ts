import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import { nextTick } from 'vue'
import { useKeptDraft } from './keptDraft'

beforeEach(() => {
  localStorage.clear()
  setActivePinia(createPinia())
})

describe('a draft', () => {
  it('survives a reload while it differs, and is forgotten once it is sent', async () => {
    const first = useKeptDraft<{ name: string }>()
    first.show('product.1', { name: 'Tung' })
    expect(first.isChanged.value).toBe(false)
    first.draft.value!.name = 'Tung oil'
    await nextTick()
    expect(first.isChanged.value).toBe(true)

    const reloaded = useKeptDraft<{ name: string }>()
    reloaded.show('product.1', { name: 'Tung' })
    expect([reloaded.draft.value, reloaded.isChanged.value]).toEqual([{ name: 'Tung oil' }, true])
    reloaded.sent({ name: 'Tung oil' })
    await nextTick()
    expect([reloaded.isChanged.value, localStorage.length]).toEqual([false, 0])
  })
  it('of an earlier release gets what has come since', () => {
    localStorage.setItem('nublet.draft.0.bench', JSON.stringify({ name: 'W' }))
    const now = useKeptDraft<{ name: string; prices: Record<string, number> }>()
    now.show('bench', { name: 'Wax', prices: { spirit: 8 } })
    expect([now.draft.value, now.isChanged.value]).toEqual([{ name: 'W', prices: { spirit: 8 } }, true])
  })
  it('undoes nothing that was changed elsewhere meanwhile', async () => {
    const before = useKeptDraft<{ name: string; protocol: string }>()
    before.show('question.1', { name: 'Wax', protocol: 'table-basics' })
    before.draft.value!.name = 'Waxes'
    await nextTick()
    const now = useKeptDraft<{ name: string; protocol: string }>()
    now.show('question.1', { name: 'Wax', protocol: 'own' })
    expect(now.draft.value).toEqual({ name: 'Waxes', protocol: 'own' })
    before.show('question.1', { name: 'Waxes', protocol: 'own' })
    expect(before.isChanged.value).toBe(false)
  })
  it('goes back to what the server has', async () => {
    const kept = useKeptDraft<{ name: string }>()
    kept.show('product.2', { name: 'Wax' })
    kept.draft.value!.name = 'W'
    await nextTick()
    kept.leave()
    await nextTick()
    expect([kept.draft.value, kept.isChanged.value, localStorage.length]).toEqual([{ name: 'Wax' }, false, 0])
  })
  it('typed back to what it was is no change', async () => {
    const kept = useKeptDraft<{ name: string }>()
    kept.show('product.3', { name: 'Wax' })
    kept.draft.value!.name = 'W'
    await nextTick()
    kept.draft.value!.name = 'Wax'
    await nextTick()
    expect([kept.isChanged.value, localStorage.length]).toEqual([false, 0])
  })
})
