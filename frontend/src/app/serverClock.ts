import { readonly, ref } from 'vue'

/**
 * The server's time in this browser. It is carried by a clock that only ever grows, so that a changed or wrong clock of
 * the device moves no timer, and set anew by each answer that tells the time, so that it does not drift.
 */

/** An answer that took longer says too little about the moment at which it was given. */
const SLOW_ANSWER_MS = 2000
const TICK_MS = 250
const OFFSET = 'nublet.clock'
/** The two clocks of a device differ by more when it slept, or when somebody set it. */
const SLEPT_MS = 2000

let base: number | null = null
const tick = ref(0)

/** The server's time now, ms since 1970; until the first answer the device's own, by as much as it was off before. */
export function serverNow(): number {
  return base === null ? Date.now() + keptOffset() : base + performance.now()
}

/** By how much this device's clock was off when a server was last there: a page that opens without one goes by that. */
function keptOffset(): number {
  return Number(localStorage.getItem(OFFSET)) || 0
}

/** Take the time from an answer: the server's word, and when it was asked and answered by the growing clock. */
export function takeServerTime(told: string, askedAt: number, answeredAt: number): void {
  if (base !== null && answeredAt - askedAt > SLOW_ANSWER_MS) return
  base = Date.parse(told) - (askedAt + answeredAt) / 2
  localStorage.setItem(OFFSET, String(Math.round(base + performance.now() - Date.now())))
  tick.value = serverNow()
}

/** Forget what was learnt. */
export function forgetServerTime(): void {
  localStorage.removeItem(OFFSET)
  base = null
}

/** The server's time, for what is shown; it moves four times a second while `startTicking` runs. */
export const now = readonly(tick)

/** Let `now` move; `onJump` is called when the device slept or its clock was set. Gives a function that stops it. */
export function startTicking(onJump: () => void): () => void {
  let apart = Date.now() - performance.now()
  tick.value = serverNow()
  const timer = window.setInterval(() => {
    const isApart = Date.now() - performance.now()
    if (Math.abs(isApart - apart) > SLEPT_MS) onJump()
    apart = isApart
    tick.value = serverNow()
  }, TICK_MS)
  return () => window.clearInterval(timer)
}
