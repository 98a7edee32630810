<script setup lang="ts">
import { computed } from 'vue'
import { api, body } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { crossingWords, draftOfCrossing } from './crossing'
import CrossingGrid from './CrossingGrid.vue'
import type { BuildUpDetail } from './model'

/** What a trial that has started varies on purpose: its grid as it stands, nothing to press. */
const props = defineProps<{ trialId: number; buildUps: readonly BuildUpDetail[] }>()

const { data } = useLoaded(() =>
  body(api.GET('/api/trials/{trial_id}/crossing', { params: { path: { trial_id: props.trialId } } })),
)
const stands = computed(() =>
  data.value?.crossing.factors?.length ? draftOfCrossing(data.value.crossing, props.buildUps) : null,
)
</script>

<template>
  <section v-if="stands" class="sheet stands" aria-labelledby="crossing">
    <header class="row">
      <h2 id="crossing">Factors</h2>
      <p class="says">{{ crossingWords(stands) }}</p>
    </header>
    <fieldset disabled>
      <CrossingGrid :model-value="stands" />
    </fieldset>
  </section>
</template>

<style scoped>
.stands {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 16px 18px;
}
.says {
  font-size: 17px;
  font-weight: 600;
}
fieldset {
  min-width: 0;
  margin: 0;
  padding: 0;
  border: 0;
}
</style>
