<script setup lang="ts">
import { computed, ref, useTemplateRef } from 'vue'
import { useRoute } from 'vue-router'
import { useOpenTrial } from '@/app/openTrial'
import { queueWords } from '@/app/queueWords'
import { useScreenKeys } from '@/kit/screenKeys'
import { now } from '@/app/serverClock'
import StateView from '@/kit/StateView.vue'
import BoardStrip from './BoardStrip.vue'
import ExposeWays from './ExposeWays.vue'
import LyingList from './LyingList.vue'
import MeetingPicker from './MeetingPicker.vue'
import { meetingPlace, meetingWords, siteKey } from './model'
import RefusedWork from '@/app/RefusedWork.vue'
import ObserveBox from './ObserveBox.vue'
import StepInHand from './StepInHand.vue'
import { useExpose } from './useExpose'
import WentWrong from './WentWrong.vue'
import WhatWentOtherwise from './WhatWentOtherwise.vue'

const route = useRoute()
const open = useOpenTrial()
const trialId = computed(() => Number(route.params.trialId))
const desk = useExpose(() => trialId.value)
const { view, trouble, lying, free, inHand, watching, sites, isPaused, said, stopped, queue } = desk
const isWrong = ref(false)
const hand = useTemplateRef<InstanceType<typeof StepInHand>>('hand')

const meeting = computed(() => view.value?.meetings.find((each) => each.id === view.value?.meeting))
const test = computed(() => view.value?.tests.find((each) => each.id === meeting.value?.test))
const place = computed(() => {
  const n = meeting.value?.panels.length ?? 0
  return `${Math.min(n, n - free.value.length + 1)} of ${n}`
})
const sitting = computed(() => (view.value ? meetingPlace(view.value) : { nth: 0, n: 0 }))
const next = computed(() =>
  view.value?.meetings.find((each) => each.n_begun === 0 && each.id !== meeting.value?.id),
)
const saved = computed(() => queueWords(queue, 'All saved'))
const warned = computed(() => {
  const found = view.value?.cannot_be_had ?? []
  const own = found.filter((each) => each.panel === inHand.value?.site.panel)
  return own.length ? own : found
})

function toggle(): void {
  isPaused.value = !isPaused.value
}
useScreenKeys(
  {
    ' ': () => hand.value?.finish(),
    u: desk.takeBack,
    s: () => hand.value?.askSkip(),
    w: () => (isWrong.value = !isWrong.value),
    p: toggle,
  },
  () => !isWrong.value && !watching.value,
)
</script>

<template>
  <div class="page">
    <StateView v-if="!view && trouble" kind="trouble" title="The sitting cannot be shown" :says="trouble">
      <button class="press press-main" @click="desk.load">Try again</button>
    </StateView>
    <StateView v-else-if="!view" kind="busy" title="Laying out the sitting…" />
    <template v-else-if="view.times_on_paper">
      <StateView
        title="The times of this trial are kept on paper"
        says="The acts are not logged here, so all looks are open to their readers. To be guided through each sitting and to have every look called at its time, keep the times here instead."
      >
        <RouterLink class="press press-main" :to="`/trials/${trialId}/read`">Read panels</RouterLink>
      </StateView>
      <ExposeWays @changed="desk.load" />
    </template>
    <template v-else-if="!view.is_started || !view.has_plan || !meeting">
      <StateView
        title="Nothing can be exposed yet"
        :says="
          !view.is_started
            ? 'The trial has not started, so what is compared could still change.'
            : !view.has_plan
              ? 'A plan says which board meets which test when, so that every lift and every look can be made. Make one first.'
              : 'This trial’s protocol does nothing to its panels: there is nothing to expose.'
        "
      >
        <RouterLink v-if="!view.is_started" class="press press-main" :to="`/trials/${trialId}/prepare`"
          >Start it under Prepare</RouterLink
        >
        <RouterLink
          v-else-if="!view.has_plan"
          class="press press-main"
          :to="`/trials/${trialId}/coat-and-cure`"
          >Plan the bench days</RouterLink
        >
        <RouterLink v-else class="press press-main" :to="`/trials/${trialId}/read`">Read panels</RouterLink>
      </StateView>
      <ExposeWays @changed="desk.load" />
    </template>
    <template v-else>
      <header class="page-head">
        <div>
          <h1>{{ meetingWords(meeting, test) }}</h1>
          <p class="quiet">
            Sitting {{ sitting.nth }} of {{ sitting.n }} ·
            {{
              meeting.shared
                ? `all ${meeting.panels.length} from one pour, in a drawn order`
                : 'each as it is ready'
            }}
            · build-ups are not shown · {{ saved }}
          </p>
        </div>
        <button class="press" :aria-pressed="isPaused" @click="toggle">
          <u>P</u>&nbsp;{{ isPaused ? 'Go on' : 'Pause' }}
        </button>
      </header>

      <RefusedWork v-if="queue.refused.length" :refused="queue.refused" @seen="queue.forgetRefused()" />

      <BoardStrip
        :view="view"
        :meeting="meeting"
        :sites="sites"
        :in-hand="inHand"
        :now="now"
        @take="desk.take"
      />

      <div class="bench">
        <div class="left">
          <p v-if="isPaused" class="sheet paused" role="status">
            Paused: nothing new is begun. What lies is still called.
          </p>
          <ObserveBox
            v-if="watching"
            :key="siteKey(watching) + watching.prompt.response + watching.prompt.view + watching.place"
            :watching="watching"
            :test-name="view.tests.find((each) => each.id === watching?.test)?.short_name ?? ''"
            :now="now"
            :stopped-at="stopped[siteKey(watching)]"
            @answer="desk.observe"
            @later="desk.observeLater"
          />
          <WentWrong
            v-else-if="isWrong && inHand"
            :panel="inHand.site.panel"
            :test="inHand.site.test.id"
            :test-name="inHand.site.test.short_name"
            :is-placed="inHand.site.test.is_placed"
            :trial-id="trialId"
            :decide="desk.decide"
            @close="isWrong = false"
          />
          <StepInHand
            v-else-if="inHand"
            ref="hand"
            :view="view"
            :step="inHand"
            :trial-id="trialId"
            :now="now"
            :place="place"
            @done="(measured) => inHand && desk.finish(inHand, measured)"
            @poured="desk.load"
            @skip="(reason) => inHand && desk.skip(inHand, reason)"
            @wrong="isWrong = true"
            @take-back="desk.takeBack"
          />
          <StateView
            v-else
            :title="isPaused ? 'Paused, and nothing lies' : 'This sitting is over'"
            :says="next ? 'Nothing of it is left to do.' : 'Every panel has met every test.'"
          >
            <button v-if="next && !isPaused" class="press press-main" @click="desk.goTo(next.id)">
              {{
                meetingWords(
                  next,
                  view.tests.find((each) => each.id === next?.test),
                )
              }}
            </button>
          </StateView>
          <p class="said" role="status">{{ said }}</p>
          <MeetingPicker :view="view" @choose="desk.goTo" />
        </div>
        <div class="left">
          <LyingList :lying="lying" :now="now" :stopped="stopped" @take="desk.take" @watch="desk.stopWatch" />
          <p v-if="warned.length" class="sheet before" role="note">
            <b>Before this test:</b> no {{ warned[0]?.what }} was taken on
            {{ [...new Set(warned.map((each) => each.panel))].slice(0, 6).join(', ') }}. After it that can
            never be had.
            <RouterLink
              :to="{
                name: 'read',
                params: { trialId, look: warned[0]?.look },
                query: warned[0]?.by === 'hands' ? { by: 'hands' } : {},
              }"
              >Take it now</RouterLink
            >
          </p>
        </div>
      </div>
      <WhatWentOtherwise :view="view" :trial-id="trialId" :decide="desk.decide" />
      <ExposeWays @changed="desk.load" />
      <p v-if="open.summary?.trial.is_simulated" class="quiet">
        Demo trial: what was logged before now is simulated.
      </p>
    </template>
  </div>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr);
  gap: 16px;
  align-items: start;
}
.left {
  display: flex;
  flex-direction: column;
  gap: 12px;
  min-width: 0;
}
.paused,
.before {
  padding: 12px 16px;
  border-left: 4px solid var(--due);
}
.said {
  min-height: 22px;
  font-weight: 600;
}
@media (max-width: 1000px) {
  .bench {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
