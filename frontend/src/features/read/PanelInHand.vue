<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { computed } from 'vue'
import ChoiceBar from '@/kit/ChoiceBar.vue'
import PanelDrawing from '@/kit/PanelDrawing.vue'
import { valueWords } from '@/kit/responses'
import { spotId, type BlindPanel, type BlindSpot, type Sitting } from './model'

const props = defineProps<{
  sitting: Sitting
  panel: BlindPanel
  spot: BlindSpot
  names: Map<string, { short_name: string }>
}>()
const emit = defineEmits<{ pick: [id: string]; turn: [by: number]; look: [id: string] }>()

const isNarrow = useMediaQuery('(max-width: 560px)')
/** The face that holds the spot in hand. */
const drawn = computed(() =>
  props.panel.spots
    .filter((found) => found.side === props.spot.side)
    .map((found) => ({
      ...found,
      id: spotId(found),
      label: props.names.get(found.exposure)?.short_name ?? found.exposure,
      ...seenAt(found),
    })),
)

/** What the drawing shows of a site: its grade, or else how many of its values stand. */
function seenAt(found: BlindSpot): { grade: number | null; words: string; note: string } {
  const graded = found.asks.find((ask) => ask.response === 'grade')
  const n = found.asks.filter((ask) => ask.value != null).length
  const [only] = found.asks
  const words =
    graded?.value != null || !only || n === 0
      ? ''
      : found.asks.length === 1 && only.value != null
        ? valueWords(only.response, only.value, only.is_beyond)
        : `${n} of ${found.asks.length}`
  return { grade: graded?.value ?? null, words, note: only?.note ?? '' }
}
</script>

<template>
  <section class="sheet hand-panel">
    <PanelDrawing
      :code="panel.code"
      :species="panel.species"
      :length-mm="panel.length_mm"
      :width-mm="panel.width_mm"
      :spots="drawn"
      :areas="panel.areas"
      :selected="spotId(spot)"
      :text-scale="isNarrow ? 1.5 : 1"
      @pick="(id) => emit('pick', id)"
    />
    <div class="row under">
      <button class="press" aria-label="Previous panel" @click="emit('turn', -1)">‹ Panel</button>
      <button class="press" aria-label="Next panel" @click="emit('turn', 1)">Panel ›</button>
      <ChoiceBar
        class="looks"
        label="Look"
        :options="sitting.looks"
        :chosen="sitting.look.id"
        @choose="(id) => emit('look', id)"
      />
    </div>
  </section>
</template>

<style scoped>
.hand-panel {
  padding: 20px 18px 14px;
}
.under {
  justify-content: flex-start;
  margin-top: 14px;
  padding-top: 14px;
  border-top: 1px solid var(--hairline);
}
.looks {
  margin-left: auto;
}
</style>
