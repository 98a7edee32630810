import { useEventListener, useLocalStorage } from '@vueuse/core'
import { watch } from 'vue'
import { useDue } from './due'
import type { DueShown } from './dueWords'

/** What this device does when something falls due; off until the person asks for it. */
export const alarms = useLocalStorage('nublet.alarms', { sound: false, title: false })

const PLAIN_TITLE = 'Nublet'
const WARN_BEFORE_MS = 60_000
/** Pitch in Hz and number of beeps: it opens, it closes in a minute, it is late. */
const SIGNALS = { opens: [660, 1], closes: [880, 2], late: [440, 3] } as const
export type Signal = keyof typeof SIGNALS

/** The signals that fell due between two moments. */
export function signalsBetween(shown: readonly DueShown[], before: number, after: number): Signal[] {
  const found = new Set<Signal>()
  const isPassed = (moment: number) => before < moment && moment <= after
  for (const { thing } of shown) {
    const closes = thing.closes_at === null ? null : Date.parse(thing.closes_at)
    if (isPassed(Math.max(Date.parse(thing.opens_at), Date.parse(thing.aim_at)))) found.add('opens')
    if (closes !== null && isPassed(closes)) found.add('late')
    else if (closes !== null && isPassed(closes - WARN_BEFORE_MS)) found.add('closes')
  }
  return [...found]
}

/** The window's title while something is due. */
export function titleOf(first: DueShown | null, wanted: boolean): string {
  return wanted && first ? `${first.left} · ${first.what} · ${PLAIN_TITLE}` : PLAIN_TITLE
}

let sounds: AudioContext | null = null

/** Beep. Browsers are silent until the page was touched once; until then nothing is heard. */
export function ring(signal: Signal): void {
  const [pitch, times] = SIGNALS[signal]
  sounds ??= new AudioContext()
  for (let beep = 0; beep < times; beep++) {
    const at = sounds.currentTime + beep * 0.35
    const tone = sounds.createOscillator()
    const loudness = sounds.createGain()
    tone.frequency.value = pitch
    loudness.gain.setValueAtTime(0.25, at)
    loudness.gain.exponentialRampToValueAtTime(0.001, at + 0.3)
    tone.connect(loudness).connect(sounds.destination)
    tone.start(at)
    tone.stop(at + 0.3)
  }
}

/** Watch what is due for as long as the shell lives. */
export function useAlarms(now: () => number): void {
  const due = useDue()
  let before = now()
  // A page that was loaded again may sound once it has been touched.
  useEventListener(window, ['pointerdown', 'keydown'], () => {
    if (alarms.value.sound) void (sounds ??= new AudioContext()).resume()
  })
  watch(now, (at) => {
    if (alarms.value.sound) for (const signal of signalsBetween(due.shown, before, at)) ring(signal)
    before = at
  })
  watch(
    () => titleOf(due.first, alarms.value.title),
    (title) => (document.title = title),
    { immediate: true },
  )
}
