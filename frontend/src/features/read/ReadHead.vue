<script setup lang="ts">
import { lookWords } from '@/kit/looks'
import type { BlindPanel, BlindSpot, Sitting, SpotPlace } from './model'

/** Which panel is in hand, where it stands in the judge's own order, and whether everything is saved. */
defineProps<{
  sitting: Sitting
  panel: BlindPanel
  spot: BlindSpot
  place: SpotPlace
  saved: string
  isKept: boolean
}>()
</script>

<template>
  <header class="page-head">
    <div>
      <h1>
        Panel <span class="mono">{{ panel.code }}</span>
      </h1>
      <p class="quiet">
        {{ sitting.trial_name }} · {{ lookWords(sitting.look.name) }} · panel {{ place.panel + 1 }} of
        {{ sitting.panels.length }} in your order · spot {{ place.spot + 1 }} of {{ panel.spots.length
        }}<template v-if="spot.side === 'back'"> · on the back</template>
      </p>
    </div>
    <div class="standing">
      <span role="status" :class="{ caution: isKept }">{{ saved }}</span>
      <span class="judge"
        >{{ sitting.by === 'hands' ? 'By hand' : 'Judge' }}: {{ sitting.judge.split(' ')[0] }}</span
      >
    </div>
  </header>
</template>

<style scoped>
.standing {
  display: flex;
  flex-direction: column;
  align-items: flex-end;
  color: var(--quiet);
}
.judge {
  color: var(--accent);
  font-weight: 700;
}
</style>
