<script setup lang="ts">
import { unitSystem } from '@/kit/units'
import { useEntries } from './entries'
import { usePhotographQueue } from './photographs'
import { keptDrafts, useSession } from './session'
import { theme } from './theme'
import { useWorkEntries } from './workEntries'

/** Who is signed in, how the screen looks, and the way out. */
const session = useSession()
const queues = [useEntries(), useWorkEntries(), usePhotographQueue()]

/** Send what is on its way, then sign out and load the page anew, so that nothing of this person stays in memory. */
async function leave(): Promise<void> {
  await Promise.all(queues.map((queue) => queue.flush()))
  const nWaiting = queues.reduce((sum, queue) => sum + queue.waiting.length, 0)
  if (nWaiting) {
    window.alert(`${nWaiting} entries have not reached the server yet. Sign out when the network is back.`)
    return
  }
  const drafts = keptDrafts(session.person?.id ?? 0).length
  if (drafts && !window.confirm('What you typed and did not save is forgotten in this browser. Sign out?'))
    return
  await session.signOut()
  window.location.assign('/')
}
</script>

<template>
  <div class="foot">
    <span class="who">{{ session.person?.display_name }}</span>
    <button
      class="small"
      :aria-label="`${theme === 'dark' ? 'Light' : 'Dark'} screen`"
      @click="theme = theme === 'dark' ? 'light' : 'dark'"
    >
      {{ theme === 'dark' ? 'Light' : 'Dark' }}
    </button>
    <button class="small" @click="unitSystem = unitSystem === 'us' ? 'metric' : 'us'">
      {{ unitSystem === 'us' ? 'Metric' : 'US' }} units
    </button>
    <button class="small" @click="leave">Sign out</button>
  </div>
</template>

<style scoped>
.small {
  display: flex;
  align-items: center;
  width: 100%;
  min-height: 40px;
  padding: 0 20px;
  border: 0;
  background: none;
  color: var(--quiet);
  font-size: 14px;
  text-align: left;
  cursor: pointer;
}
.small:focus-visible {
  outline-offset: -3px;
}
.foot {
  display: grid;
  grid-template-columns: 1fr 1fr;
  margin-top: auto;
  padding: 6px 0;
  border-top: 1px solid var(--hairline);
}
.foot .small:nth-child(odd) {
  padding-left: 10px;
  padding-right: 6px;
}
.who {
  grid-column: 1 / -1;
  display: block;
  padding: 4px 20px;
  font-weight: 600;
}
@media (max-width: 900px) {
  .foot {
    grid-template-columns: 1fr;
  }
  .foot .small:nth-child(n) {
    padding-left: 14px;
  }
  .small,
  .who {
    padding-left: 14px;
  }
}
@media (max-width: 560px) {
  .foot {
    display: flex;
    margin: 0;
    padding: 0;
    border: 0;
  }
  .who {
    display: none;
  }
  .small {
    white-space: nowrap;
  }
}
</style>
