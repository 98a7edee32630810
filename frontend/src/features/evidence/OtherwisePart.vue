<script setup lang="ts">
import { api, body, type Schemas } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import OtherwiseBox from './OtherwiseBox.vue'

/** Weighs once more with what was left out, after the page stands. */
const props = defineProps<{
  trialId: number
  query: { look: string; species: string; section: string; response: string }
  leftOut: readonly Schemas['LeftOut'][]
  names: ReadonlyMap<string, string>
  response: string
}>()
const { data: found, trouble } = useLoaded(
  () =>
    body(
      api.GET('/api/trials/{trial_id}/evidence/otherwise', {
        params: { path: { trial_id: props.trialId }, query: props.query },
      }),
    ),
  [() => JSON.stringify([props.trialId, props.query, props.leftOut])],
)
</script>

<template>
  <OtherwiseBox
    :left-out="leftOut"
    :found="found ?? null"
    :trouble="trouble"
    :names="names"
    :response="response"
  />
</template>
