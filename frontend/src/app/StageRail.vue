<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import RailFoot from './RailFoot.vue'
import RailStages from './RailStages.vue'
import { useSession } from './session'

/** The left edge: where one can go, the stages of the open trial, and who is here. */
const route = useRoute()
const session = useSession()
const trialId = computed(() => Number(route.params.trialId) || null)
const places = computed(() => [
  { to: '/', name: 'Today' },
  { to: '/practice', name: 'Practice' },
  ...(session.person?.keeps_key
    ? [
        { to: '/trials', name: 'Trials' },
        { to: '/shelf/products', name: 'Shelf' },
        { to: '/calculators', name: 'Calculators' },
        { to: '/bench', name: 'Bench' },
        { to: '/people', name: 'People' },
      ]
    : [{ to: '/people', name: 'Password' }]),
])

/** A place stands out on its own pages too: the shelf on a product's page. */
function isWithin(to: string): boolean {
  const start = `/${to.split('/')[1]}`
  return start.length > 1 && !trialId.value && route.path.startsWith(start)
}
</script>

<template>
  <div class="rail">
    <nav aria-label="Places" class="places">
      <RouterLink
        v-for="place in places"
        :key="place.to"
        :to="place.to"
        class="place"
        :class="{ within: isWithin(place.to) }"
        >{{ place.name }}</RouterLink
      >
    </nav>
    <RailStages v-if="trialId" :trial-id="trialId" />
    <RailFoot />
  </div>
</template>

<style scoped>
.rail {
  display: flex;
  flex-direction: column;
  overflow: auto;
  background: var(--rail);
  border-right: 1px solid var(--hairline);
}
.places {
  display: grid;
  grid-template-columns: 1fr 1fr;
  padding: 8px 0;
  border-bottom: 1px solid var(--hairline);
}
.place {
  display: flex;
  align-items: center;
  min-height: 40px;
  padding: 0 6px 0 20px;
  color: var(--ink);
  font-size: 15px;
  text-decoration: none;
}
.places .place:nth-child(even) {
  padding-left: 10px;
}
.place.router-link-exact-active,
.place.within {
  background: var(--paper);
  font-weight: 700;
}
.place:focus-visible {
  outline-offset: -3px;
}
@media (max-width: 900px) {
  .places {
    grid-template-columns: 1fr;
  }
  .places .place:nth-child(n) {
    padding-left: 14px;
  }
}
@media (max-width: 560px) {
  .rail {
    flex-direction: row;
    overflow-x: auto;
    border-bottom: 1px solid var(--hairline);
  }
  .places {
    flex-direction: row;
    display: flex;
    padding: 0;
    border: 0;
    background: none;
  }
}
</style>
