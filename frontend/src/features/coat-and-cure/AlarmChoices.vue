<script setup lang="ts">
import { alarms, ring } from '@/app/alarms'

/** Whether this device calls out when something falls due. */
function turnSound(isOn: boolean): void {
  alarms.value = { ...alarms.value, sound: isOn }
  // Heard at once, so that the person knows how it sounds and that it does.
  if (isOn) ring('opens')
}
</script>

<template>
  <fieldset class="alarms">
    <legend class="sr">When something falls due, on this device</legend>
    <label class="choice"
      ><input
        type="checkbox"
        :checked="alarms.sound"
        @change="turnSound(($event.target as HTMLInputElement).checked)"
      />
      Sound</label
    >
    <label class="choice"
      ><input
        type="checkbox"
        :checked="alarms.title"
        @change="alarms = { ...alarms, title: ($event.target as HTMLInputElement).checked }"
      />
      In the window’s title</label
    >
  </fieldset>
</template>

<style scoped>
.alarms {
  display: flex;
  flex-wrap: wrap;
  gap: 0 20px;
}
</style>
