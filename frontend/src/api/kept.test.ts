import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it } from 'vitest'
import { Problem } from './client'
import { askOrKept, forgetAnswers, keepAnswersOf } from './kept'

const gone = () => Promise.reject(new Problem('No answer.', { status: 0, code: 'offline' }))
const refused = () => Promise.reject(new Problem('Not yours.', { status: 403, code: 'x' }))

/** Writing an answer down is not waited for by whoever asked. */
async function settle(): Promise<void> {
  for (let turn = 0; turn < 30; turn++) await new Promise((done) => setTimeout(done, 0))
}

describe('answers that are kept for the day without a server', () => {
  beforeEach(async () => {
    await forgetAnswers()
    await keepAnswersOf(3)
  })

  it('gives the last answer while no server is there, and the newest when one is', async () => {
    expect(await askOrKept('sitting', async () => ({ n: 1 }))).toEqual({ n: 1 })
    await settle()
    expect(await askOrKept('sitting', gone)).toEqual({ n: 1 })
    expect(await askOrKept('sitting', async () => ({ n: 2 }))).toEqual({ n: 2 })
    await settle()
    expect(await askOrKept('sitting', gone)).toEqual({ n: 2 })
  })

  it('is no answer to what was never asked, nor to a refusal', async () => {
    await expect(askOrKept('sitting', gone)).rejects.toThrow('No answer')
    await askOrKept('sitting', async () => 1)
    await settle()
    await expect(askOrKept('sitting', refused)).rejects.toThrow('Not yours')
  })

  it('stands in for a server that is down behind another', async () => {
    await askOrKept('sitting', async () => 1)
    await settle()
    const down = () => Promise.reject(new Problem('Down.', { status: 503, code: 'x' }))
    expect(await askOrKept('sitting', down)).toBe(1)
  })

  it('keeps nothing that comes after its person has gone', async () => {
    let come: (answer: string) => void = () => undefined
    const asked = askOrKept('trial 8', () => new Promise<string>((done) => (come = done)))
    await keepAnswersOf(9)
    come('Marrowby Tung')
    await asked
    await settle()
    await keepAnswersOf(3)
    await expect(askOrKept('trial 8', gone)).rejects.toThrow('No answer')
  })

  it('is nobody else’s: a judge on the same browser finds nothing of a keeper’s', async () => {
    await askOrKept('trial 8', async () => 'Marrowby Tung')
    await settle()
    await keepAnswersOf(9)
    await expect(askOrKept('trial 8', gone)).rejects.toThrow('No answer')
    // Not even after the keeper has signed in again: it was thrown away.
    await keepAnswersOf(3)
    await expect(askOrKept('trial 8', gone)).rejects.toThrow('No answer')
  })
})
