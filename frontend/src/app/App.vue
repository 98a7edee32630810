<script setup lang="ts">
import { computed, watch } from 'vue'
import { useRoute } from 'vue-router'
import SignInAgain from '@/features/sign-in/SignInAgain.vue'
import StateView from '@/kit/StateView.vue'
import { loadUnits } from '@/kit/units'
import DueStrip from './DueStrip.vue'
import { useJudging } from './judging'
import { useSession } from './session'
import StageRail from './StageRail.vue'

const session = useSession()
const judging = useJudging()
const route = useRoute()

const isForbidden = computed(() => Boolean(route.meta.keepers) && !session.person?.keeps_key)

watch(
  () => [session.person?.id, route.path],
  () => {
    void loadUnits()
    if (session.person) void judging.load()
  },
  { immediate: true },
)
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
  <SignInAgain />
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
