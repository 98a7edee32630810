<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { codesOf } from '@/app/dueWords'

/** Looks months away: dates, and no sittings of the plan; in the calendar file too. */
defineProps<{ dates: readonly Schemas['FarDate'][]; zone: string }>()

function dayOf(moment: string, zone: string): string {
  return new Date(moment).toLocaleDateString('en-GB', {
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    timeZone: zone,
  })
}
</script>

<template>
  <section class="sheet far" aria-labelledby="far-title">
    <h2 id="far-title">Looks months away</h2>
    <ul>
      <li v-for="date in dates" :key="`${date.what} ${date.aim_at} ${date.is_planned}`">
        <b>{{ dayOf(date.aim_at, zone) }}</b>
        <span>{{ date.what }}</span>
        <span class="mono">{{ codesOf(date.panels, 6) }}</span>
        <small v-if="date.is_planned" class="quiet">by the plan; it counts from when it is done</small>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.far {
  padding: 12px 16px;
}
ul {
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  padding: 6px 0;
  border-top: 1px solid var(--hairline);
}
li b {
  min-width: 150px;
}
</style>
