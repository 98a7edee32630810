<script setup lang="ts">
import { computed, onMounted, useTemplateRef, watch } from 'vue'
import { layOut, type MarkPicture } from './surface'
import { shade, type Lamp } from './shade'

/** A drawn mark, lit. */
const props = withDefaults(
  defineProps<{ picture: MarkPicture; lamp: Lamp; label: string; width?: number }>(),
  { width: 480 },
)
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const height = computed(() => Math.round(props.width * 0.625))
const surface = computed(() => layOut(props.picture, props.width, height.value))

function paint(): void {
  const context = canvas.value?.getContext('2d')
  if (!context) return
  const image = context.createImageData(props.width, height.value)
  shade(surface.value, props.lamp, image.data)
  context.putImageData(image, 0, 0)
}
onMounted(paint)
watch([surface, () => props.lamp.elevation, () => props.lamp.azimuth], paint, { flush: 'post' })
</script>

<template>
  <canvas ref="canvas" :width="width" :height="height" role="img" :aria-label="label" class="surface" />
</template>

<style scoped>
.surface {
  display: block;
  width: 100%;
  height: auto;
}
</style>
