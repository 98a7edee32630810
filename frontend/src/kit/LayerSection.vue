<script setup lang="ts">
import { computed } from 'vue'
import { finishTint, stackBands, type DrawnLayer } from './section'
import { woodTone } from './wood'

/** A build-up as a cross-section: penetrating coats go into the wood, films stand on it, waxes lie on top. */
const props = withDefaults(
  defineProps<{
    layers: readonly DrawnLayer[]
    species?: string
    size?: 'small' | 'large'
    chosen?: number
    label?: string
  }>(),
  { species: 'beech', size: 'small', chosen: -1, label: '' },
)

const WIDTH = 96
const tone = computed(() => woodTone(props.species))
const bands = computed(() => stackBands(props.layers))
const height = computed(() => Math.max(0, ...bands.value.map((band) => band.top)))
/** Room above the surface, and the wood shown beneath it. */
const above = computed(() => Math.max(props.size === 'large' ? 14 : 20, height.value + 3))
const WOOD = computed(() => (props.size === 'large' ? 46 : 28))
const total = computed(() => above.value + WOOD.value)
</script>

<template>
  <svg
    class="section"
    :class="size"
    :viewBox="`0 0 ${WIDTH} ${total}`"
    preserveAspectRatio="none"
    :role="label ? 'img' : undefined"
    :aria-label="label || undefined"
    :aria-hidden="label ? undefined : true"
  >
    <rect x="0" :y="above" :width="WIDTH" :height="WOOD" :fill="tone.ground" />
    <path
      v-for="line in [7, 13, 19, 26, 33, 40].filter((y) => y < WOOD - 2)"
      :key="line"
      :d="`M0 ${above + line} q24 -2.5 48 0 t48 0`"
      :stroke="tone.grain"
      fill="none"
      vector-effect="non-scaling-stroke"
      stroke-width="1"
    />
    <g v-for="band in bands" :key="band.index" :class="{ chosen: band.index === chosen }">
      <rect
        x="0"
        class="band"
        :y="above - band.top"
        :width="WIDTH"
        :height="Math.min(band.top - band.bottom, band.isInWood ? WOOD : 200)"
        :fill="finishTint(band.layer.family)"
        :opacity="band.isInWood ? 0.34 : 1"
      />
      <line
        v-for="coat in band.coats"
        :key="coat"
        x1="0"
        :x2="WIDTH"
        :y1="above - coat"
        :y2="above - coat"
        class="coat"
        vector-effect="non-scaling-stroke"
      />
      <line
        v-if="!band.isInWood"
        x1="0"
        :x2="WIDTH"
        :y1="above - band.top"
        :y2="above - band.top"
        class="rim"
        vector-effect="non-scaling-stroke"
      />
    </g>
    <line
      x1="0"
      :x2="WIDTH"
      :y1="above"
      :y2="above"
      class="edge"
      :class="{ bare: layers.length === 0 }"
      vector-effect="non-scaling-stroke"
    />
  </svg>
</template>

<style scoped>
.section {
  display: block;
  flex: none;
}
.small {
  width: 96px;
  height: 48px;
}
.large {
  width: 100%;
  height: 150px;
}
.band {
  transition:
    y 0.25s,
    height 0.25s;
}
.coat {
  stroke: #1d2321;
  stroke-opacity: 0.35;
  stroke-width: 1;
}
.rim {
  stroke: #1d2321;
  stroke-opacity: 0.75;
  stroke-width: 1;
}
.edge {
  stroke: #1d2321;
  stroke-width: 1.6;
}
.bare {
  stroke: var(--ink);
  stroke-dasharray: 3 2;
}
.chosen .band {
  stroke: var(--ink);
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}
</style>
