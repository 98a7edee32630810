import { describe, expect, it } from 'vitest'
import { shallowReactive } from 'vue'
import { useNotYetShown } from './notYetShown'
import type { WorkEntry } from './workEntries'

const entry = (id: string, trial = 1) => ({ client_id: id, trial_id: trial }) as WorkEntry

function open() {
  const queue = shallowReactive({
    waiting: [] as WorkEntry[],
    listen: (given: (entry: WorkEntry, answer: []) => void) => void (took = given),
  })
  let took: (entry: WorkEntry, answer: []) => void = () => undefined
  const unseen = useNotYetShown(queue, () => 1)
  return { queue, unseen, took: (taken: WorkEntry) => took(taken, []) }
}
const idsOf = (entries: readonly WorkEntry[]) => entries.map((each) => each.client_id)

describe('entries that an answer may not know yet', () => {
  it('are those on their way, and those taken since the server was last asked', () => {
    const { queue, unseen, took } = open()
    const shows = unseen.asking()
    took(entry('a'))
    queue.waiting = [entry('b'), entry('theirs', 2)]
    // The answer to what was asked before says nothing of it.
    shows()
    expect(idsOf(unseen.entries.value)).toEqual(['a', 'b'])
    const again = unseen.asking()
    took(entry('c'))
    again()
    expect(idsOf(unseen.entries.value)).toEqual(['c', 'b'])
  })

  it('stand once where an entry was taken and is still listed as waiting', () => {
    const { queue, unseen, took } = open()
    queue.waiting = [entry('a'), entry('b')]
    took(entry('a'))
    expect(idsOf(unseen.entries.value)).toEqual(['a', 'b'])
  })
})
