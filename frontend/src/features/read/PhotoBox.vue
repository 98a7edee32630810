<script setup lang="ts">
import { computed, ref, useTemplateRef } from 'vue'
import { TAKEN } from '@/app/photographs'
import BeforeAfter from '@/kit/BeforeAfter.vue'
import { inOrder, photographAddress, photographWords } from '@/kit/photographs'
import { usePhotographs, type InView } from './usePhotographs'

/**
 * Photographs of the site in hand. What was seen at earlier looks is held against it only once it is read, so that no earlier
 * picture leads the eye; where it came round a second time nothing is shown of the first.
 */
const props = defineProps<{
  trialId: number
  inView: InView
  testName: string
  isRead: boolean
  isAgain: boolean
}>()
const photos = usePhotographs(() => props.trialId)
const { says, nWaiting, refused } = photos
const chooser = useTemplateRef<HTMLInputElement>('chooser')
const shown = ref(-1)

const here = computed(() => (props.isAgain ? [] : photos.of(props.inView, props.inView.look)))
const all = computed(() => inOrder(photos.of(props.inView)))
const compared = computed(() => (props.isRead && !props.isAgain ? all.value : here.value))

function choose(): void {
  chooser.value?.click()
}
function taken(event: Event): void {
  const input = event.target as HTMLInputElement
  photos.take(input.files ?? [], props.inView)
  input.value = ''
}
function open(id: number): void {
  shown.value = compared.value.findIndex((each) => each.id === id)
}
defineExpose({ choose })
</script>

<template>
  <section class="photos" aria-label="Photographs of this spot">
    <input
      ref="chooser"
      class="unseen"
      type="file"
      :accept="TAKEN"
      multiple
      tabindex="-1"
      aria-hidden="true"
      @change="taken"
    />
    <div class="row">
      <button class="press" @click="choose"><u>P</u>&nbsp;photograph</button>
      <button v-if="isRead && !isAgain && all.length > 1" class="press" @click="shown = all.length - 1">
        Before and after
      </button>
    </div>
    <ul v-if="here.length" class="thumbs">
      <li v-for="each in here" :key="each.id">
        <button class="thumb" @click="open(each.id)">
          <img :src="photographAddress(each.id, 'thumb')" :alt="photographWords(each, testName)" />
        </button>
        <button
          class="gone"
          :aria-label="`Take the photograph ${photographWords(each, testName)} back`"
          @click="photos.withdraw(each.id)"
        >
          ×
        </button>
      </li>
    </ul>
    <p v-if="nWaiting" class="quiet" role="status">
      {{ nWaiting }} photograph{{ nWaiting === 1 ? '' : 's' }} kept here, on the way
    </p>
    <p v-if="says" class="caution" role="alert">{{ says }}</p>
    <div v-if="refused.length" class="caution" role="alert">
      <p v-for="each in refused" :key="each.entry.client_id">
        Not kept: {{ each.entry.name }} of {{ each.entry.panel }}. {{ each.says }}
      </p>
      <button class="press" @click="photos.forgetRefused">I have seen it</button>
    </div>
    <BeforeAfter
      v-if="shown >= 0"
      :photographs="compared"
      :test-name="testName"
      :start="shown"
      @close="shown = -1"
    />
  </section>
</template>

<style scoped>
.photos {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.thumbs {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.thumbs li {
  position: relative;
}
.thumb {
  padding: 0;
  border: 1px solid var(--hairline);
  background: none;
  cursor: pointer;
}
.thumb img {
  display: block;
  width: 92px;
  height: 69px;
  object-fit: cover;
}
.gone {
  position: absolute;
  top: 0;
  right: 0;
  width: 28px;
  height: 28px;
  border: 0;
  background: var(--paper);
  color: var(--ink);
  font-size: 18px;
  cursor: pointer;
}
.unseen {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}
@media (max-width: 640px) {
  .gone {
    width: 36px;
    height: 36px;
  }
}
</style>
