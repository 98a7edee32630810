<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

/** Whether it can be trusted, and what can be told apart, is alike, is open; each check with what it does to the verdict. */
const props = defineProps<{ found: Schemas['Evidence'] }>()

const LEVELS: Record<string, { mark: string; word: string }> = {
  pass: { mark: '●', word: 'holds' },
  warn: { mark: '▲', word: 'look at it' },
  fail: { mark: '■', word: 'fails' },
}
const ORDER = ['fail', 'warn', 'pass']
const checks = computed(() =>
  [...props.found.checks].sort((a, b) => ORDER.indexOf(a.level) - ORDER.indexOf(b.level)),
)
const nTroubles = computed(() => props.found.checks.filter((each) => each.level !== 'pass').length)
const p = (alpha: number) => alpha.toPrecision(2)
</script>

<template>
  <p v-if="found.headline.wood" class="wood sheet" role="note">{{ found.headline.wood }}</p>
  <section class="headline sheet">
    <div>
      <b>Trust it?</b> {{ found.headline.trust }}
      <p v-if="nTroubles" class="caution">{{ nTroubles }} to look at</p>
    </div>
    <div><b>Told apart:</b> {{ found.headline.told_apart }}</div>
    <div><b>Alike:</b> {{ found.headline.alike }}</div>
    <div><b>Open:</b> {{ found.headline.open }}</div>
    <div v-if="found.stage" class="wide">
      <b>Stage {{ found.stage.stage }} of {{ found.stage.n_stages }}:</b>
      {{ found.stage.limit.n_boards }} of {{ found.stage.limits.at(-1)?.n_boards }} boards of each wood. Two
      are told apart below p = {{ p(found.stage.limit.alpha) }}, so that all looks together are wrong in at
      most 5 of 100 trials.
      <template v-if="found.stage.stage < found.stage.n_stages"
        >The next look comes when {{ found.stage.limits[found.stage.stage]?.n_boards }} are read, at p =
        {{ p(found.stage.limits[found.stage.stage]?.alpha ?? 0) }}.</template
      >
    </div>
    <details class="wide">
      <summary :class="{ caution: nTroubles }">Every check, and what it does to the verdict</summary>
      <ul class="checks">
        <li v-for="check in checks" :key="`${check.check}${check.says}`" :class="check.level">
          <span class="mark" aria-hidden="true">{{ LEVELS[check.level]?.mark }}</span>
          <span
            ><b class="level">{{ LEVELS[check.level]?.word }}:</b> {{ check.says }}
            <em v-if="check.does">{{ check.does }}</em></span
          >
        </li>
      </ul>
    </details>
  </section>
</template>

<style scoped>
.headline {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
}
.wood {
  margin: 0;
  padding: 12px 16px;
  border-left: 4px solid var(--caution);
  font-weight: 600;
}
.headline > div,
.headline > details {
  padding: 12px 16px;
  border-left: 1px solid var(--hairline);
}
.headline > div:first-child,
.headline > .wide {
  border-left: 0;
}
.headline > .wide {
  grid-column: 1 / -1;
  border-top: 1px solid var(--hairline);
}
summary {
  min-height: 32px;
  font-weight: 600;
  cursor: pointer;
}
.checks {
  display: grid;
  gap: 6px;
  margin: 8px 0 0;
  padding: 0;
  list-style: none;
}
.checks li {
  display: grid;
  grid-template-columns: 1.4em minmax(0, 1fr);
  max-width: 110ch;
}
.mark {
  color: var(--accent);
}
.warn .mark,
.warn .level {
  color: var(--caution);
}
.fail .mark,
.fail .level {
  color: var(--late);
}
.pass .level {
  font-weight: 400;
}
em {
  display: block;
  color: var(--quiet);
  font-style: normal;
}
@media (max-width: 1100px) {
  .headline {
    grid-template-columns: minmax(0, 1fr);
  }
  .headline > div,
  .headline > details {
    border-left: 0;
    border-top: 1px solid var(--hairline);
  }
}
</style>
