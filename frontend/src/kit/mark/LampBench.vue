<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, reactive, useTemplateRef, watch } from 'vue'
import { isForScreen } from '@/kit/screenKeys'
import MarkSurface from './MarkSurface.vue'
import { GLANCING, HIGHEST, LOWEST, SQUARE_ON, type Lamp } from './shade'
import type { MarkPicture } from './surface'

/** A mark under a lamp that is moved: by hand over the picture, by its slides, or from square on to glancing by one key. */
const props = defineProps<{
  picture: MarkPicture
  at: string
  label: string
  /** What stands under the picture, from its left to its right. */ under?: readonly string[]
}>()
const lamp = reactive<Lamp>({ ...SQUARE_ON })
const stage = useTemplateRef<HTMLElement>('stage')
const isGlancing = computed(() => lamp.elevation < 35)

watch(
  () => props.at,
  () => Object.assign(lamp, SQUARE_ON),
)
function tip(): void {
  Object.assign(lamp, isGlancing.value ? SQUARE_ON : GLANCING)
}
/** The pointer is where the lamp's light comes from: in the middle square on, at the edge glancing. */
function lead(event: PointerEvent): void {
  if (event.pointerType === 'mouse' && event.buttons === 0) return
  const box = stage.value?.getBoundingClientRect()
  if (!box) return
  const x = (event.clientX - box.left) / box.width - 0.5
  const y = (event.clientY - box.top) / box.height - 0.5
  const out = Math.min(1, 2 * Math.hypot(x, y))
  lamp.elevation = Math.round(HIGHEST - (HIGHEST - LOWEST) * out)
  lamp.azimuth = Math.round((Math.atan2(-y, x) * 180) / Math.PI)
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (!isForScreen(event)) return
  const keys: Record<string, () => void> = {
    v: tip,
    ArrowUp: () => (lamp.elevation = Math.min(HIGHEST, lamp.elevation + 6)),
    ArrowDown: () => (lamp.elevation = Math.max(LOWEST, lamp.elevation - 6)),
    ArrowLeft: () => (lamp.azimuth = (lamp.azimuth + 15) % 360),
    ArrowRight: () => (lamp.azimuth = (lamp.azimuth + 345) % 360),
  }
  const act = keys[event.key]
  if (!act) return
  act()
  event.preventDefault()
})
const words = computed(
  () =>
    `${isGlancing.value ? 'glancing' : lamp.elevation > 75 ? 'square on' : 'between'}, ${lamp.elevation}° over the surface`,
)
</script>

<template>
  <figure class="bench">
    <div ref="stage" class="stage" @pointerdown="lead" @pointermove="lead">
      <MarkSurface :picture="picture" :lamp="lamp" :label="`${label}, lamp ${words}`" />
    </div>
    <p v-if="under" class="under mono" aria-hidden="true">
      <span v-for="each in under" :key="each">{{ each }}</span>
    </p>
    <figcaption>
      <button class="press" :aria-pressed="isGlancing" @click="tip">
        <u>V</u>&nbsp;{{ isGlancing ? 'lamp square on' : 'lamp glancing' }}
      </button>
      <label
        >Height
        <input
          v-model.number="lamp.elevation"
          type="range"
          :min="LOWEST"
          :max="HIGHEST"
          aria-label="How high the lamp stands, degrees"
      /></label>
      <label
        >From
        <input
          v-model.number="lamp.azimuth"
          type="range"
          min="-180"
          max="180"
          aria-label="From which side the lamp shines, degrees"
      /></label>
      <span class="quiet">{{ words }}</span>
    </figcaption>
  </figure>
</template>

<style scoped>
.bench {
  margin: 0;
}
.stage {
  touch-action: none;
  cursor: crosshair;
}
.under {
  display: flex;
  justify-content: space-between;
  margin: 0;
  padding: 4px 3.5% 0;
  font-size: 12px;
}
figcaption {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 18px;
  margin-top: 10px;
}
label {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 44px;
}
input {
  width: 120px;
  accent-color: var(--accent);
}
</style>
