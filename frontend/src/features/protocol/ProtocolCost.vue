<script setup lang="ts">
import { computed } from 'vue'
import PanelDrawing from '@/kit/PanelDrawing.vue'
import { quantityOf, said } from '@/kit/units'
import { rowsOf, severityText, type Change, type Composed, type Library } from './model'

/** What the draft asks of the trial: how it fills a panel, panels and slips, hands, days, readings; and what no test feeds. */
const props = defineProps<{
  composed: Composed
  library: Library | null
  species: string
  /** Id of the test in hand. */
  chosen: string
}>()
const emit = defineEmits<{ add: [what: Partial<Change>]; choose: [test: string] }>()

const celsius = (value: number) => quantityOf('celsius', value)
/** The drawing is small: a ladder's steps, which stand side by side, by what tells them apart. */
const names = computed(
  () =>
    new Map(
      rowsOf(props.composed).flatMap((row) =>
        row.steps.map(({ test }) => [
          test.id,
          (row.ladder && severityText(test, celsius)) || test.short_name || test.name,
        ]),
      ),
    ),
)
const panels = computed(() =>
  props.composed.panels.map((panel, index) => ({
    index,
    areas: panel.sections.map((section, n) => ({ ...section, place: n + 1 })),
    spots: panel.spots
      .filter((spot) => spot.side === 'front')
      .map((spot) => ({
        ...spot,
        id: `${spot.exposure}/${spot.section ?? ''}`,
        label: names.value.get(spot.exposure) ?? spot.exposure,
      })),
  })),
)
const selected = (spots: readonly { id: string; exposure: string }[]) =>
  spots.find((spot) => spot.exposure === props.chosen)?.id ?? null
function pick(spots: readonly { id: string; exposure: string }[], id: string): void {
  const spot = spots.find((each) => each.id === id)
  if (spot) emit('choose', spot.exposure)
}
const asking = computed(() => props.composed.asking)
const hours = (h: number) => (h < 10 ? h.toFixed(1) : h.toFixed(0))
const nameOf = (id: string) => props.library?.tests.find((test) => test.id === id)?.name ?? id
</script>

<template>
  <aside class="cost" aria-label="What it asks of the trial">
    <div v-if="composed.trouble.length" class="sheet trouble" role="status">{{ said(composed.trouble) }}</div>
    <section v-else class="sheet panels">
      <figure v-for="panel in panels" :key="panel.index">
        <PanelDrawing
          code="draft"
          :species="species"
          :length-mm="composed.panel_length_mm"
          :width-mm="composed.panel_width_mm"
          :spots="panel.spots"
          :areas="panel.areas"
          :text-scale="1.5"
          :selected="selected(panel.spots)"
          @pick="(id) => pick(panel.spots, id)"
        />
      </figure>
      <p class="quiet">
        {{ quantityOf('millimetres', composed.panel_length_mm) }} ×
        {{ quantityOf('millimetres', composed.panel_width_mm)
        }}<template v-if="asking.panels_each > 1"
          >; {{ asking.panels_each }} panels of each build-up on a board</template
        ><template v-if="asking.n_slips">; {{ asking.n_slips }} slips of glass besides</template>
      </p>
    </section>
    <dl class="sheet figures" aria-live="polite">
      <div>
        <dt>Panels</dt>
        <dd class="mono">{{ asking.n_panels }}</dd>
        <dd class="quiet">{{ composed.n_build_ups }} build-ups × {{ composed.n_boards }} boards</dd>
      </div>
      <div>
        <dt>Hands</dt>
        <dd class="mono">{{ hours(asking.expose_h) }} h</dd>
        <dd class="quiet">exposing; each judge {{ hours(asking.read_h) }} h</dd>
      </div>
      <div>
        <dt>Days</dt>
        <dd class="mono">{{ asking.n_days }}</dd>
        <dd class="quiet">from the first act to the last look</dd>
      </div>
      <div>
        <dt>Readings</dt>
        <dd class="mono">{{ asking.n_readings.toLocaleString('en') }}</dd>
        <dd class="quiet">
          {{ asking.n_readings_each.toLocaleString('en') }} each of {{ composed.n_judges }}
          {{ composed.n_judges === 1 ? 'judge' : 'judges' }}
        </dd>
      </div>
    </dl>
    <section v-for="each in composed.unfed" :key="`${each.use} ${each.name}`" class="sheet unfed">
      <p>
        <b>{{ each.use }} {{ each.is_gate ? 'must pass' : 'asks for' }} {{ each.name.toLowerCase() }}.</b>
        Nothing here feeds it.
      </p>
      <button
        v-for="test in composed.is_fixed ? [] : each.tests"
        :key="test"
        class="link"
        @click="emit('add', { what: 'add_test', test })"
      >
        Add {{ nameOf(test) }}
      </button>
    </section>
  </aside>
</template>

<style scoped>
.cost {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.panels {
  padding: 12px;
}
figure {
  margin: 0 0 6px;
}
.trouble {
  padding: 12px 14px;
  border-left: 4px solid var(--late);
}
.figures {
  display: grid;
  grid-template-columns: 1fr 1fr;
  margin: 0;
}
.figures > div {
  padding: 10px 12px;
  border-bottom: 1px solid var(--hairline);
}
.figures > div:nth-child(odd) {
  border-right: 1px solid var(--hairline);
}
.figures dd {
  margin: 0;
}
.figures .mono {
  font-size: 20px;
}
.figures .quiet {
  font-size: 13px;
}
.unfed {
  padding: 10px 14px;
  border-left: 4px solid var(--caution);
}
.unfed p {
  margin: 0;
}
.link {
  display: block;
  min-height: 36px;
  padding: 0;
  border: 0;
  background: none;
  color: var(--accent);
  text-align: left;
  text-decoration: underline;
  cursor: pointer;
}
</style>
