import type { Schemas } from '@/api/client'
import { serverNow } from '@/app/serverClock'
import { useWorkEntries, type WorkEntry } from '@/app/workEntries'
import { isDone, nextTurn, runningTurn, type Operation } from './model'

type Measured = Schemas['MeasuredRequest']

/** The panels of a pass that are neither done nor given up. */
function codesLeft(operation: Operation): string[] {
  return operation.turns.filter((turn) => !isDone(turn)).map((turn) => turn.code)
}

/** What can be pressed for an operation: each becomes an entry, kept here until the server has it. */
export function useDesk(trialId: () => number) {
  const queue = useWorkEntries()

  function enter(
    operation: Operation,
    entry: WorkEntry['entry'],
    panels: string[],
    more: Partial<WorkEntry> = {},
  ): void {
    queue.add({
      trial_id: trialId(),
      client_id: crypto.randomUUID(),
      entry,
      kind: operation.kind,
      item: operation.item,
      look_after_min: operation.look_after_min,
      nth: operation.nth,
      act: operation.act,
      panels,
      at: new Date(serverNow()).toISOString(),
      hands: operation.hands_id,
      ...more,
    })
  }

  /** The one large key: begin, or end this panel and begin the next. */
  function goOn(operation: Operation, measured: Measured = {}): void {
    const at = new Date(serverNow()).toISOString()
    const running = runningTurn(operation)
    const next = nextTurn(operation)
    if (running) enter(operation, 'done', [running.code], { at, measured })
    if (next) enter(operation, 'begin', [next.code], { at, measured })
  }

  /** All panels that are left are done now, one after the other since the first was begun. */
  function finish(operation: Operation, measured: Measured = {}): void {
    const left = codesLeft(operation)
    if (left.length) enter(operation, 'done', left, { measured })
  }

  /** They were done at another time than now. */
  function finishAt(operation: Operation, begun: number, ended: number, measured: Measured = {}): void {
    const left = codesLeft(operation)
    enter(operation, 'done', left, {
      begun_at: new Date(begun).toISOString(),
      at: new Date(ended).toISOString(),
      measured,
    })
  }

  function skip(operation: Operation, reason: string): void {
    const left = codesLeft(operation)
    if (left.length) enter(operation, 'skip', left, { reason })
  }

  /** One panel has had its last coat: its sheen is even. Told at the coat, or at the abrading before it, which falls away with it. */
  function even(operation: Operation, code: string): void {
    enter({ ...operation, kind: 'coat', nth: 1 }, 'even', [code])
  }

  /** A weight is the work itself: the panel is weighed when it is entered. */
  function weigh(operation: Operation, code: string, nth: 1 | 2, weight_g: number): void {
    enter({ ...operation, kind: 'weigh', nth, look_after_min: 0, act: '' }, 'done', [code], {
      measured: { weight_g },
    })
  }

  function measure(operation: Operation, measured: Measured): void {
    enter(
      operation,
      'measure',
      operation.turns.map((turn) => turn.code),
      { measured },
    )
  }

  /** Take the last entry back, whether it was sent or is still here. */
  function takeBack(operation: Operation): boolean {
    const codes = new Set(operation.turns.map((turn) => turn.code))
    const own = queue.waiting.filter(
      (entry) =>
        entry.trial_id === trialId() &&
        entry.kind === operation.kind &&
        entry.item === operation.item &&
        entry.panels.some((code) => codes.has(code)),
    )
    const undone = new Set(queue.waiting.map((entry) => entry.undoes))
    const last = own.filter((entry) => entry.entry !== 'take_back' && !undone.has(entry.client_id)).at(-1)
    const undoes = last?.client_id ?? operation.last_entry
    if (!undoes || undone.has(undoes)) return false
    enter(operation, 'take_back', [...codes], { undoes })
    return true
  }

  return { goOn, finish, finishAt, skip, even, weigh, measure, takeBack }
}
