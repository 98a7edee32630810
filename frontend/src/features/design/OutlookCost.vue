<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { quantityOf } from '@/kit/units'

/** What the design takes: panels, hours, money and finish. */
const props = defineProps<{ outlook: Schemas['Outlook'] }>()

const cost = computed(() => props.outlook.cost)
const hours = (h: number) => (h < 10 ? h.toFixed(1) : h.toFixed(0))
const parts = computed(() => [
  { name: 'cutting and preparing', h: cost.value.effort.prepare_h },
  { name: 'coating', h: cost.value.effort.coat_h },
  { name: 'exposing', h: cost.value.effort.expose_h },
  { name: 'grading', h: cost.value.effort.read_h },
])
</script>

<template>
  <dl class="cost" aria-label="What this design costs">
    <div>
      <dt>Panels</dt>
      <dd class="mono">{{ outlook.n_panels }}</dd>
      <dd class="quiet">
        {{ outlook.n_spots }}
        {{ outlook.n_slips ? `places, ${outlook.n_slips} of them on slips of glass` : 'spots' }}
      </dd>
    </div>
    <div>
      <dt>Hands-on hours</dt>
      <dd class="mono">{{ hours(cost.effort.total_h) }}</dd>
      <dd class="quiet">
        <template v-for="(part, index) in parts" :key="part.name"
          >{{ index ? ', ' : '' }}{{ part.name }} {{ hours(part.h) }}</template
        >; estimates
      </dd>
    </div>
    <div>
      <dt>Finish used up</dt>
      <dd class="mono">{{ quantityOf('millilitres', cost.litres * 1000) }}</dd>
      <dd class="quiet">
        {{ cost.days ? `${cost.days.toFixed(0)} days from the first coat to full cure` : 'nothing to coat' }}
      </dd>
    </div>
    <div>
      <dt>Money</dt>
      <dd class="mono">{{ quantityOf('price', cost.money) }}</dd>
      <dd class="quiet">
        for what is used<template v-if="cost.purchase"
          >, {{ quantityOf('price', cost.purchase) }} for whole containers</template
        ><template v-if="cost.n_without_price"
          >; {{ cost.n_without_price }} without a price on the shelf</template
        >
      </dd>
    </div>
  </dl>
</template>

<style scoped>
.cost {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  margin: 0;
  border-top: 1px solid var(--hairline);
}
.cost > div {
  padding: 10px 16px;
  border-left: 1px solid var(--hairline);
}
.cost > div:first-child {
  border-left: 0;
}
dt {
  font-weight: 600;
}
dd {
  margin: 0;
  font-size: 14px;
}
dd.mono {
  font-size: 20px;
}
@media (max-width: 900px) {
  .cost {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
  .cost > div:nth-child(odd) {
    border-left: 0;
  }
  .cost > div:nth-child(n + 3) {
    border-top: 1px solid var(--hairline);
  }
}
</style>
