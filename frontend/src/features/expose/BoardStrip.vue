<script setup lang="ts">
import { computed } from 'vue'
import { spanOf } from '@/app/dueWords'
import { clockOf } from '@/kit/clock'
import PanelDrawing from '@/kit/PanelDrawing.vue'
import { siteKey, type Expose, type Meeting, type Site, type Step } from './model'

/** One board's panels side by side in their drawn order, by code alone; the place in hand carries the cross marks. */
const props = defineProps<{
  view: Expose
  meeting: Meeting
  sites: readonly Site[]
  inHand: Step | null
  now: number
}>()
defineEmits<{ take: [key: string] }>()

interface Shown {
  key: string
  code: string
  isHere: boolean
  says: string
  isLate: boolean
}

const shown = computed<Shown[]>(() => {
  const sites = new Map(props.sites.map((site) => [siteKey(site), site]))
  let isThen = false
  return props.meeting.panels.map((code) => {
    const key = `${code}|${props.meeting.test}`
    const site = sites.get(key)
    const isHere = props.inHand !== null && siteKey(props.inHand.site) === key
    const says = isHere ? 'now' : wordsOf(site, isThen)
    if (isHere || (site && site.nDone === 0)) isThen = true
    return { key, code, isHere, says, isLate: isUncured(site) }
  })
})
const lying = computed(
  () =>
    new Set(
      props.sites
        .filter((site) => site.nDone > 0 && site.nDone < site.acts.length)
        .map((site) => siteKey(site)),
    ),
)
const panels = computed(() => new Map(props.view.panels.map((panel) => [panel.code, panel])))
const names = computed(() => new Map(props.view.tests.map((test) => [test.id, test.short_name])))

function isUncured(site: Site | undefined): boolean {
  return site?.nDone === 0 && (site.readyAt === null || site.readyAt > props.now)
}
function wordsOf(site: Site | undefined, isThen: boolean): string {
  if (!site) return 'left out'
  const act = site.acts[site.nDone - 1]
  if (site.nDone >= site.acts.length) return 'done'
  if (act && site.since !== null)
    return `${act.verb.toLowerCase()} ${clockOf(site.since, props.view.time_zone, true)}`
  if (site.readyAt === null) return 'not coated'
  if (site.readyAt > props.now) return `cured in ${spanOf(site.readyAt - props.now)}`
  return isThen ? 'then' : ''
}
function spotsOf(code: string) {
  const panel = panels.value.get(code)
  const side = panel?.spots.find((spot) => spot.exposure === props.meeting.test)?.side
  return (panel?.spots ?? [])
    .filter((spot) => spot.side === side)
    .map((spot) => ({
      ...spot,
      id: `${spot.exposure}/${spot.place}`,
      label: spot.exposure === props.meeting.test ? (names.value.get(spot.exposure) ?? '') : '',
      isLying: lying.value.has(`${code}|${spot.exposure}`),
    }))
}
function chosenOn(code: string): string {
  const spot = panels.value.get(code)?.spots.find((each) => each.exposure === props.meeting.test)
  return spot ? `${spot.exposure}/${spot.place}` : ''
}
</script>

<template>
  <ul class="sheet strip" aria-label="Panels of this sitting">
    <li v-for="each in shown" :key="each.key" :class="{ here: each.isHere }">
      <button class="one" :aria-pressed="each.isHere" @click="$emit('take', each.key)">
        <span class="head">
          <b class="mono">{{ each.code }}</b>
          <span class="quiet" :class="{ caution: each.isLate }">{{ each.says }}</span>
        </span>
      </button>
      <PanelDrawing
        v-if="panels.get(each.code)"
        :code="each.code"
        :species="panels.get(each.code)?.species ?? ''"
        :length-mm="panels.get(each.code)?.length_mm ?? 1"
        :width-mm="panels.get(each.code)?.width_mm ?? 1"
        :areas="panels.get(each.code)?.areas"
        :spots="spotsOf(each.code)"
        :selected="each.isHere ? chosenOn(each.code) : ''"
        :text-scale="1.7"
        @pick="$emit('take', each.key)"
      />
    </li>
  </ul>
</template>

<style scoped>
.strip {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(210px, 1fr));
  gap: 8px;
  margin: 0;
  padding: 12px;
  list-style: none;
}
li {
  padding: 8px 10px 4px;
  border: 2px solid transparent;
}
.here {
  border-color: var(--ink);
  background: var(--paper);
}
.one {
  width: 100%;
  min-height: 44px;
  padding: 0;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.head {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 8px;
}
.head b {
  font-size: 22px;
}
@media (max-width: 640px) {
  .strip {
    display: flex;
    overflow-x: auto;
  }
  li {
    flex: 0 0 200px;
  }
}
</style>
