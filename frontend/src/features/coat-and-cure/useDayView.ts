import { computed, ref, watch, type Ref } from 'vue'
import { useRoute } from 'vue-router'
import { now, serverNow } from '@/app/serverClock'
import { ZOOMS, type Zoom } from './lanes'
import { laterDate, ms, nextOperation, type BenchDay, type Days, type Operation } from './model'

/** Which days, which stretch of them and which work is looked at, and how to go from one to another. */
export function useDayView(source: {
  days: Ref<Days | null>
  operations: Ref<Operation[]>
  first: Ref<string>
  nDays: Ref<number>
}) {
  const { days, operations, first, nDays } = source
  const route = useRoute()
  const zoom = ref<Zoom>('day')
  const at = ref(0)
  const selected = ref<number | null>(Number(route.query.work) || null)
  const shownDays = computed(() => days.value?.shown ?? [])
  const day = computed<BenchDay | undefined>(() => shownDays.value[0])
  const inHand = computed(
    () => operations.value.find((each) => each.id === selected.value) ?? nextOperation(operations.value),
  )

  function isNow(each: BenchDay): boolean {
    return now.value >= ms(each.opens_at) - 12 * 3_600_000 && now.value <= ms(each.closes_at) + 6 * 3_600_000
  }
  /** Look at the day from now when it is today, else from its beginning. */
  function settle(): void {
    if (day.value) at.value = isNow(day.value) ? serverNow() : ms(day.value.opens_at) + 3_600_000
  }
  watch(() => [day.value?.date, zoom.value], settle, { immediate: true })
  watch(zoom, (kind) => (nDays.value = kind === 'week' ? 7 : 1))
  watch(
    () => route.query.work,
    (work) => {
      if (!Number(work)) return
      selected.value = Number(work)
      // It may lie on another day: the server knows which.
      first.value = ''
    },
  )

  function shift(direction: number): void {
    const kind = ZOOMS.find((each) => each.id === zoom.value)
    if (kind?.spanMs) at.value += (direction * kind.spanMs) / 2
    else turn(direction * nDays.value)
  }
  /** Another day; stepping by one day goes on to the next that has work. */
  function turn(by: number): void {
    const dates = (days.value?.days ?? []).map((each) => each.date)
    const near =
      by > 0
        ? dates.find((date) => date > first.value)
        : [...dates].reverse().find((date) => date < first.value)
    show((Math.abs(by) === 1 && near) || laterDate(first.value, by))
  }
  function show(date: string): void {
    selected.value = null
    first.value = date
  }
  function step(by: number): void {
    const index = operations.value.findIndex((each) => each.id === inHand.value?.id)
    const next = operations.value[Math.min(operations.value.length - 1, Math.max(0, index + by))]
    if (next) selected.value = next.id
  }
  function zoomBy(by: number): void {
    const index = ZOOMS.findIndex((each) => each.id === zoom.value)
    zoom.value = ZOOMS[Math.min(ZOOMS.length - 1, Math.max(0, index + by))]?.id ?? zoom.value
  }
  function takeNext(): void {
    selected.value = nextOperation(operations.value)?.id ?? null
  }

  return { zoom, at, selected, shownDays, day, inHand, shift, turn, show, step, zoomBy, takeNext }
}
