<script setup lang="ts">
import AlarmChoices from './AlarmChoices.vue'

/** What the keys of this screen do, and how it calls. */
const isShowing = defineModel<boolean>({ required: true })
</script>

<template>
  <div class="keys-hint">
    <button class="press" @click="isShowing = !isShowing">Keys</button>
    <span v-if="isShowing" class="quiet">
      Enter start, then next panel · D all done · E even, no more coats · O done at another time · S skip · U
      take back · ↑ ↓ another work · N what is next · ← → earlier, later · + − zoom · [ ] another day
    </span>
    <AlarmChoices />
  </div>
</template>

<style scoped>
.keys-hint {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 12px;
}
</style>
