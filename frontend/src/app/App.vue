<script setup lang="ts">
import { useEventListener, useIntervalFn } from '@vueuse/core'
import { computed, onScopeDispose, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { SignInAgain } from '@/features/sign-in'
import StateView from '@/kit/StateView.vue'
import { loadUnits } from '@/kit/units'
import { useAlarms } from './alarms'
import { useDue } from './due'
import DueStrip from './DueStrip.vue'
import { useJudging } from './judging'
import { now, startTicking } from './serverClock'
import { useSession } from './session'
import StageRail from './StageRail.vue'
import { useWorkEntries } from './workEntries'

const session = useSession()
const judging = useJudging()
const due = useDue()
const work = useWorkEntries()
const route = useRoute()
/** What is due is asked for this often, which sets the clock anew each time. */
const ASK_EVERY_MS = 30_000

const isForbidden = computed(() => Boolean(route.meta.keepers) && !session.person?.keeps_key)

// The dialog stays once it was needed, and closes by itself.
const hasEverExpired = ref(false)
watch(
  () => session.hasExpired,
  (hasExpired) => (hasEverExpired.value ||= hasExpired),
  { immediate: true },
)

watch(
  () => [session.person?.id, route.path],
  () => {
    void loadUnits()
    // Whoever has just signed in is about to be taken to another page, which asks then.
    if (route.name === 'sign-in') return
    loadDue()
  },
  { immediate: true },
)

function loadDue(): void {
  if (!session.person || session.hasExpired) return
  void due.load()
  void judging.load()
}
useIntervalFn(loadDue, ASK_EVERY_MS)
useEventListener(window, 'online', loadDue)
useEventListener(document, 'visibilitychange', () => document.visibilityState === 'visible' && loadDue())
onScopeDispose(startTicking(loadDue))
useAlarms(() => now.value)
work.listen(loadDue)
</script>

<template>
  <RouterView v-if="!session.person || route.name === 'sign-in'" />
  <div v-else class="shell">
    <a class="skip" href="#work">Skip to the work</a>
    <header class="top">
      <RouterLink class="name" to="/">Nublet</RouterLink>
      <DueStrip />
    </header>
    <StageRail class="rail" />
    <main id="work" class="work" tabindex="-1">
      <div v-if="isForbidden" class="page">
        <StateView
          title="Not for judges"
          says="This page tells which panel carries what, and a judge works blind. Owners and testers may see it."
        >
          <RouterLink class="press press-main" to="/">Go to what there is to grade</RouterLink>
        </StateView>
      </div>
      <RouterView v-else />
    </main>
  </div>
  <SignInAgain v-if="hasEverExpired" />
</template>

<style scoped>
.shell {
  display: grid;
  grid-template: 64px 1fr / 196px minmax(0, 1fr);
  height: 100%;
}
.top {
  grid-column: 1 / -1;
  display: flex;
  min-width: 0;
  background: var(--bench);
  color: var(--bench-ink);
}
.name {
  display: flex;
  align-items: center;
  width: 196px;
  flex: none;
  padding-left: 20px;
  color: inherit;
  font-size: 19px;
  font-weight: 700;
  text-decoration: none;
}
.name:focus-visible {
  outline-color: var(--due);
  outline-offset: -4px;
}
.work {
  overflow: auto;
  outline: none;
}
.skip {
  position: absolute;
  top: -60px;
  z-index: 10;
  padding: 12px;
  background: var(--paper);
}
.skip:focus {
  top: 8px;
}
@media print {
  .shell {
    display: block;
    height: auto;
  }
  .top,
  .rail,
  .skip {
    display: none;
  }
  .work {
    overflow: visible;
  }
}
@media (max-width: 900px) {
  .shell {
    grid-template-columns: 132px minmax(0, 1fr);
  }
  .name {
    width: 132px;
    padding-left: 14px;
  }
}
@media (max-width: 560px) {
  .shell {
    grid-template: auto auto 1fr / minmax(0, 1fr);
  }
  .name {
    width: auto;
    padding-right: 12px;
  }
}
</style>
