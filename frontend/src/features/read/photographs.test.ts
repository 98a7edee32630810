import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Schemas } from '@/api/client'
import { MOST_BYTES, whyNoPhotograph } from '@/app/photographs'
import { useSession } from '@/app/session'
import BeforeAfter from '@/kit/BeforeAfter.vue'
import { inOrder, photographWords } from '@/kit/photographs'
import { isForScreen } from '@/kit/screenKeys'
import PhotoBox from './PhotoBox.vue'

function photo(id: number, fields: Partial<Schemas['Photograph']> = {}): Schemas['Photograph'] {
  return {
    id, panel: 'K7', exposure: 'wine', place: 0, look: '24h', look_name: '24 h', nth_look: 1, width_px: 640, height_px: 480,
    taken_by: 'Imara', taken_at: `2027-03-0${id}T09:00:00Z`, is_own: true, ...fields,
  } // prettier-ignore
}

describe('what may be a photograph', () => {
  const file = (size: number, type = 'image/jpeg', name = 'ring.jpg') =>
    ({ size, type, name }) as unknown as File
  it('is told before anything is sent', () => {
    expect(whyNoPhotograph(file(9))).toBe('')
    // A phone may not know what it took.
    expect(whyNoPhotograph(file(9, ''))).toBe('')
    expect(whyNoPhotograph(file(0))).toContain('is empty')
    expect(whyNoPhotograph(file(MOST_BYTES + 1))).toContain('a photograph may have 26')
    expect(whyNoPhotograph(file(9, 'text/csv', 'grades.csv'))).toContain('grades.csv is no photograph')
  })
})

describe('photographs of one place', () => {
  it('stand in the order of its looks, then as they were taken', () => {
    const found = [photo(3), photo(1), photo(2, { nth_look: 0 }), photo(4, { nth_look: 2 })]
    expect(inOrder(found).map((each) => each.id)).toEqual([2, 1, 3, 4])
    expect(photographWords(photo(1), 'Wine 1 h')).toBe('K7, Wine 1 h, 24 h')
    expect(photographWords(photo(1, { exposure: '' }))).toBe('K7, whole panel, 24 h')
  })
  it('are held against each other by an edge that the keys move', async () => {
    const shown = mount(BeforeAfter, {
      props: { photographs: [photo(1), photo(2), photo(3)], testName: 'Wine' },
      attachTo: document.body,
    })
    expect(shown.findAll('img').map((each) => each.attributes('src'))).toEqual([
      '/api/photographs/3/view',
      '/api/photographs/1/view',
    ])
    await shown.find('input[type=range]').setValue('20')
    expect(shown.find('.over').attributes('style')).toContain('inset(0 80% 0 0)')
    await shown.findAll('select')[0]!.setValue('1')
    expect(shown.find('.over').attributes('src')).toBe('/api/photographs/2/view')
    // The page's own keys rest meanwhile.
    let isForPage = true
    window.addEventListener('keydown', (event) => (isForPage = isForScreen(event)), { once: true })
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '4', bubbles: true }))
    expect(isForPage).toBe(false)
    shown.unmount()
  })
  it('of which there is one has no edge', () => {
    const shown = mount(BeforeAfter, { props: { photographs: [photo(1)] } })
    expect(shown.findAll('img')).toHaveLength(1)
    expect(shown.text()).toContain('with a second one')
  })
})

describe('the box of the spot in hand', () => {
  const inView = { judge: 3, panel: 'K7', exposure: 'wine', place: 0, look: '24h' }
  const props = {
    trialId: 1, inView, testName: 'Wine', isRead: false, isAgain: false,
  } // prettier-ignore
  const found = [
    photo(1, { look: 'before', look_name: 'Before', nth_look: 0 }),
    photo(2),
    photo(3, { panel: 'R4' }),
  ]
  const sent: FormData[] = []

  beforeEach(() => {
    sent.length = 0
    setActivePinia(createPinia())
    useSession().person = {
      id: 3, username: 'i', display_name: 'I', role: 'judge', shop: 'S', currency: '€', keeps_key: false,
    } // prettier-ignore
    vi.stubGlobal(
      'fetch',
      vi.fn(async (request: Request) => {
        if (request.method === 'GET') return Response.json(found)
        sent.push(await request.formData())
        return Response.json(photo(9), { status: 201 })
      }),
    )
  })

  async function open(more: Partial<typeof props> = {}) {
    const box = mount(PhotoBox, { props: { ...props, ...more } })
    await flushPromises()
    return box
  }
  const shownIn = (box: Awaited<ReturnType<typeof open>>) =>
    box.findAll('img').map((each) => each.attributes('src'))

  it('shows this look alone until the spot is read, and then before beside after', async () => {
    const box = await open()
    expect(shownIn(box)).toEqual(['/api/photographs/2/thumb'])
    expect(box.text()).not.toContain('Before and after')
    await box.setProps({ isRead: true })
    expect(box.text()).toContain('Before and after')
  })
  it('shows nothing of the first time where a spot comes round again', async () => {
    const box = await open({ isAgain: true, isRead: true })
    expect(shownIn(box)).toEqual([])
    expect(box.text()).not.toContain('Before and after')
  })
  it('says what cannot be a photograph and sends nothing', async () => {
    const box = await open()
    const input = box.find('input[type=file]')
    Object.defineProperty(input.element, 'files', {
      value: [new File(['a,b'], 'grades.csv', { type: 'text/csv' })],
    })
    await input.trigger('change')
    expect(box.find('[role=alert]').text()).toContain('grades.csv is no photograph')
    expect(sent).toHaveLength(0)
  })
})
