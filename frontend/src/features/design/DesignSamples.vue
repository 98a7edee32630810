<script setup lang="ts">
import { computed } from 'vue'
import PanelDrawing from '@/kit/PanelDrawing.vue'
import { figureOf, quantityOf, said } from '@/kit/units'
import { drawnAreas, drawnSpots, sidesOf, type Outlook } from './model'

/** How the design would lie: what does not fit, what it says of itself, and a panel as it may be laid out. */
const props = defineProps<{ outlook: Outlook | null; species: string; names: ReadonlyMap<string, string> }>()

const shortBoards = computed(() => props.outlook?.boards.filter((board) => board.says.length) ?? [])
const samples = computed(() =>
  (props.outlook?.samples ?? []).flatMap((sample, index) =>
    sidesOf(sample.spots).map((side) => ({
      key: `${index}-${side}`,
      title: [
        (props.outlook?.samples.length ?? 0) > 1 ? `Panel ${index + 1}` : '',
        sidesOf(sample.spots).length > 1 ? side : '',
      ]
        .filter(Boolean)
        .join(', '),
      spots: drawnSpots(sample.spots, side, props.names),
      areas: drawnAreas(sample.sections),
    })),
  ),
)
</script>

<template>
  <div class="samples">
    <ul v-if="outlook?.troubles.length || shortBoards.length" class="troubles sheet" role="status">
      <li v-for="found in outlook?.troubles" :key="said(found.says)">{{ said(found.says) }}</li>
      <template v-if="!outlook?.troubles.length">
        <li v-for="board in shortBoards" :key="board.name">{{ said(board.says) }}</li>
      </template>
    </ul>
    <ul v-if="outlook" class="plain-list">
      <li v-for="wood in outlook.species" :key="wood.species">{{ wood.says }}</li>
      <li v-for="says in outlook.says" :key="says">{{ says }}</li>
    </ul>
    <figure v-for="sample in samples" :key="sample.key">
      <figcaption class="quiet">
        {{ sample.title || 'A panel as it may be laid out' }} ·
        {{ figureOf('millimetres', outlook?.panel_length_mm ?? 0) }} ×
        {{ quantityOf('millimetres', outlook?.panel_width_mm ?? 0) }}
      </figcaption>
      <PanelDrawing
        code="sample"
        :species="species"
        :length-mm="outlook?.panel_length_mm ?? 400"
        :width-mm="outlook?.panel_width_mm ?? 150"
        :spots="sample.spots"
        :areas="sample.areas"
        :text-scale="sample.areas.length ? 0.85 : 1.1"
      />
    </figure>
  </div>
</template>

<style scoped>
.samples {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.troubles {
  margin: 0;
  padding: 12px 16px 12px 32px;
  border-left: 4px solid var(--late);
}
.plain-list {
  margin: 0;
  padding-left: 18px;
}
figure {
  margin: 0;
}
</style>
