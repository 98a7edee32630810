<script setup lang="ts">
import { computed, ref } from 'vue'
import PanelDrawing from '@/kit/PanelDrawing.vue'
import { figureOf, quantityOf } from '@/kit/units'
import { woodTone } from '@/kit/wood'
import { drawnAreas, drawnSpots, sidesOf, type Design } from './model'

/** Which panel carries what, board by board: the key, for keepers alone. */
const props = defineProps<{ design: Design; names: ReadonlyMap<string, string> }>()

const chosen = ref<string | null>(null)
const boards = computed(() => props.design.boards.filter((board) => board.panels.length))
const panels = computed(() =>
  boards.value.flatMap((board) => board.panels.map((panel) => ({ panel, board }))),
)
const shown = computed(() => panels.value.find(({ panel }) => panel.code === chosen.value) ?? panels.value[0])
/** Slips of glass, by what they are for; they come from no board. */
const slips = computed(() =>
  [...new Set(props.design.slips.map((slip) => slip.test))].map((test) => ({
    test,
    rows: props.design.slips.filter((slip) => slip.test === test),
  })),
)
</script>

<template>
  <section v-if="shown || slips.length" class="key-part" aria-label="The key">
    <p class="key sheet">
      <strong>This is the key.</strong> Write only the code on the back of a panel, and keep this page from
      the judges.
    </p>
    <section v-if="slips.length" class="sheet glass" aria-label="Slips of glass">
      <div v-for="group in slips" :key="group.test">
        <h2>On glass: {{ names.get(group.test) ?? group.test }}</h2>
        <ul>
          <li v-for="slip in group.rows" :key="slip.code" :class="{ spoiled: slip.is_spoiled }">
            <b class="mono">{{ slip.code }}</b> {{ slip.build_up.name }}
            <span class="quiet">no {{ slip.replicate }}{{ slip.is_spoiled ? ', spoiled' : '' }}</span>
          </li>
        </ul>
      </div>
    </section>
    <div v-if="shown" class="split">
      <div class="boards">
        <div v-for="board in boards" :key="board.id" class="board">
          <h2>{{ board.name }}</h2>
          <div class="plank">
            <button
              v-for="panel in board.panels"
              :key="panel.code"
              class="piece"
              :class="{ chosen: panel.code === shown.panel.code, spoiled: panel.is_spoiled }"
              :style="{
                background: woodTone(board.species).ground,
                borderColor: woodTone(board.species).grain,
              }"
              :aria-pressed="panel.code === shown.panel.code"
              @click="chosen = panel.code"
            >
              <b class="mono">{{ panel.code }}</b>
              <span>{{ panel.build_up.name }}</span>
              <span v-if="panel.is_spoiled">spoiled</span>
            </button>
          </div>
        </div>
      </div>
      <aside class="sheet detail">
        <h2>
          Panel <span class="mono">{{ shown.panel.code }}</span>
        </h2>
        <p>{{ shown.panel.build_up.name }} · {{ shown.board.name }}, piece {{ shown.panel.position }}</p>
        <template v-for="side in sidesOf(shown.panel.spots)" :key="side">
          <p v-if="sidesOf(shown.panel.spots).length > 1" class="quiet">{{ side }}</p>
          <PanelDrawing
            :code="shown.panel.code"
            :species="shown.board.species"
            :length-mm="design.panel_length_mm"
            :width-mm="design.panel_width_mm"
            :spots="drawnSpots(shown.panel.spots, side, names)"
            :areas="drawnAreas(shown.panel.sections)"
            :text-scale="shown.panel.sections.length ? 0.9 : 1.3"
          />
        </template>
        <p class="quiet">
          {{ figureOf('millimetres', design.panel_length_mm) }} ×
          {{ quantityOf('millimetres', design.panel_width_mm) }}, length along the grain. Spots are placed by
          lot on every panel.
        </p>
      </aside>
    </div>
  </section>
</template>

<style scoped>
.key-part {
  display: flex;
  flex-direction: column;
  gap: 16px;
}
.key {
  padding: 10px 16px;
  border-left: 4px solid var(--due);
}
.glass {
  padding: 12px 16px;
}
.glass ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
  gap: 4px 16px;
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
}
.glass .spoiled {
  text-decoration: line-through;
}
.split {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 380px;
  gap: 24px;
  align-items: start;
}
.boards {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.board h2 {
  font-size: 14px;
  color: var(--quiet);
}
.plank {
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: minmax(0, 1fr);
  gap: 3px;
}
.piece {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  min-height: 52px;
  min-width: 0;
  padding: 4px 6px;
  border: 1px solid;
  color: #1d2321;
  font-size: 12px;
  line-height: 1.15;
  text-align: left;
  cursor: pointer;
}
.piece b {
  font-size: 15px;
}
.piece span {
  max-width: 100%;
  overflow-wrap: break-word;
}
.spoiled b {
  text-decoration: line-through;
}
.chosen {
  outline: 3px solid var(--ink);
  outline-offset: -1px;
}
.detail {
  position: sticky;
  top: 16px;
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 16px;
}
@media (max-width: 1100px) {
  .split {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media (max-width: 900px) {
  .plank {
    grid-auto-flow: row;
    grid-template-columns: repeat(4, minmax(0, 1fr));
  }
}
</style>
