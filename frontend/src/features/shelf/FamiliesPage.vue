<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { words } from '@/api/declared.json'
import { useOpenTrial } from '@/app/openTrial'
import LayerSection from '@/kit/LayerSection.vue'
import StateView from '@/kit/StateView.vue'
import { figureOf, quantityOf, signOf } from '@/kit/units'
import ShelfTabs from './ShelfTabs.vue'

/** How the finish families behave: what ships, to read. */
const open = useOpenTrial()
void open.loadReference()
const cautions = computed(() => new Map(open.reference?.cautions.map((caution) => [caution.id, caution])))

const SEAT_WORDS: Record<Schemas['SeatEnum'], string> = words.seat

function spread(usual: Schemas['Usual']): string {
  const [first, later] = [usual.spread_first_m2_per_l, usual.spread_later_m2_per_l]
  return `${figureOf('spread_m2_per_l', first)} then ${figureOf('spread_m2_per_l', later)} ${signOf('spread_m2_per_l')}`
}
function windowOf(low: number | null | undefined, high: number | null | undefined, unit: string): string {
  if (low == null) return 'not wiped off'
  return high == null ? `from ${low} ${unit} on` : `${low} to ${high} ${unit}`
}
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>Shelf</h1>
        <p class="quiet">
          Families: their members behave alike; the figures are usual ones, shown where a label is silent
        </p>
      </div>
      <ShelfTabs />
    </header>
    <ul v-if="open.reference" class="sheet list">
      <li v-for="family in open.reference.families" :key="family.id" class="family">
        <LayerSection :layers="[{ family: family.id, seat: family.seat, coats: 2 }]" />
        <div>
          <h2>{{ family.name }}</h2>
          <p>{{ family.says }}</p>
          <p class="quiet">
            It {{ SEAT_WORDS[family.seat] }} and {{ family.setting
            }}<template v-if="family.redissolved_by">; softened by {{ family.redissolved_by }}</template
            >. To mend: {{ family.mending.toLowerCase() }}.
          </p>
          <p v-for="id in family.cautions" :key="id" class="mind">
            <strong>{{ cautions.get(id)?.says }}</strong> {{ cautions.get(id)?.do }}
          </p>
        </div>
        <dl>
          <dt>Spread</dt>
          <dd>{{ spread(family.usual) }}</dd>
          <dt>Wipe off</dt>
          <dd>{{ windowOf(family.usual.wipe_off_min?.[0], family.usual.wipe_off_min?.[1], 'min') }}</dd>
          <dt>Recoat</dt>
          <dd>{{ windowOf(family.usual.recoat_h[0], family.usual.recoat_h[1], 'h') }}</dd>
          <dt>Full cure</dt>
          <dd>{{ quantityOf('days', family.usual.cure_d) }}</dd>
        </dl>
      </li>
    </ul>
    <StateView v-else kind="busy" title="Looking the families up…" />
  </div>
</template>

<style scoped>
.list {
  margin: 0;
  padding: 0;
  list-style: none;
}
.family {
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr) 260px;
  gap: 20px;
  padding: 14px 16px;
}
.family + .family {
  border-top: 1px solid var(--hairline);
}
.mind {
  margin-top: 4px;
  padding-left: 8px;
  border-left: 3px solid var(--due);
  font-size: 14px;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 12px;
  align-content: start;
  margin: 0;
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0;
  font-family: var(--mono);
}
@media (max-width: 900px) {
  .family {
    grid-template-columns: 96px minmax(0, 1fr);
  }
  dl {
    grid-column: 2;
  }
}
</style>
