<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { WEEKDAYS, type HandsDraft } from './model'

/** One pair of hands: a name, the spans of its week, and the days on which it does not work. */
defineProps<{ number: number }>()
defineEmits<{ remove: [] }>()
const hands = defineModel<HandsDraft>({ required: true })

function turn(span: Schemas['HoursRequest'], day: Schemas['DaysEnum'], isOn: boolean): void {
  const chosen = new Set(span.days)
  if (isOn) chosen.add(day)
  else chosen.delete(day)
  span.days = WEEKDAYS.filter((each) => chosen.has(each.id)).map((each) => each.id)
}
</script>

<template>
  <fieldset class="hands">
    <legend class="sr">Hands {{ number }}</legend>
    <div class="row">
      <label :for="`hands-name-${number}`">Name</label>
      <input :id="`hands-name-${number}`" v-model="hands.name" class="box wide" maxlength="120" />
      <button type="button" class="press" @click="$emit('remove')">Take off</button>
    </div>
    <div v-for="(span, index) in hands.hours" :key="index" class="row span">
      <span class="days" role="group" :aria-label="`Days of span ${index + 1}`">
        <label
          v-for="day in WEEKDAYS"
          :key="day.id"
          class="weekday"
          :class="{ on: span.days.includes(day.id) }"
        >
          <input
            type="checkbox"
            class="sr"
            :checked="span.days.includes(day.id)"
            @change="turn(span, day.id, ($event.target as HTMLInputElement).checked)"
          />{{ day.name }}
        </label>
      </span>
      <label :for="`hands-${number}-from-${index}`">from</label>
      <input :id="`hands-${number}-from-${index}`" v-model="span.from" class="box mono" maxlength="5" />
      <label :for="`hands-${number}-to-${index}`">to</label>
      <input :id="`hands-${number}-to-${index}`" v-model="span.to" class="box mono" maxlength="5" />
      <button
        v-if="hands.hours.length > 1"
        type="button"
        class="press"
        :aria-label="`Remove span ${index + 1}`"
        @click="hands.hours.splice(index, 1)"
      >
        ×
      </button>
    </div>
    <button
      type="button"
      class="press"
      @click="hands.hours.push({ days: ['mon', 'tue', 'wed', 'thu', 'fri'], from: '13:00', to: '17:00' })"
    >
      Add hours
    </button>
    <div class="row">
      <label :for="`hands-off-${number}`">Days off</label>
      <input
        :id="`hands-off-${number}`"
        v-model="hands.days_off"
        class="box wide mono"
        placeholder="2026-12-24, 2026-12-25"
      />
    </div>
  </fieldset>
</template>

<style scoped>
.hands {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 10px;
  padding: 0 0 14px;
  border-bottom: 1px solid var(--hairline);
}
.span {
  gap: 8px;
}
.days {
  display: flex;
}
.weekday {
  display: flex;
  align-items: center;
  justify-content: center;
  min-width: 46px;
  min-height: var(--target);
  border: 1px solid var(--line);
  margin-right: -1px;
  cursor: pointer;
}
.weekday.on {
  background: var(--ink);
  color: var(--paper);
}
.weekday:focus-within {
  outline: 3px solid var(--accent);
  outline-offset: 2px;
}
.box {
  width: 84px;
}
.box.wide {
  width: 280px;
}
</style>
