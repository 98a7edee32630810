<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, body, wordsOf } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { useKeptDraft } from '@/app/keptDraft'
import { useSession } from '@/app/session'
import QuantityInput from '@/kit/QuantityInput.vue'
import StateView from '@/kit/StateView.vue'
import { setCurrency } from '@/kit/units'
import HandsHours from './HandsHours.vue'
import InstrumentRow from './InstrumentRow.vue'
import PaceRows from './PaceRows.vue'
import { benchToSend, draftOf, MAX_HANDS, newHands, THINNERS, type BenchDraft } from './model'

const session = useSession()
const { data, trouble: loadTrouble, load } = useLoaded(() => body(api.GET('/api/bench')), [])
const kept = useKeptDraft<BenchDraft>()
const { draft } = kept
const trouble = ref('')
const said = ref('')
const isBusy = ref(false)
const ownsShop = computed(() => session.person?.role === 'owner')
const here = Intl.DateTimeFormat().resolvedOptions().timeZone

watch(data, (bench) => bench && kept.show('bench', draftOf(bench)))

async function save(): Promise<void> {
  if (!draft.value) return
  const fields = benchToSend(draft.value, ownsShop.value)
  said.value = ''
  if (typeof fields === 'string') {
    trouble.value = fields
    return
  }
  isBusy.value = true
  try {
    data.value = await body(api.PATCH('/api/bench', { body: fields }))
    kept.sent(draftOf(data.value))
    setCurrency(data.value.currency)
    trouble.value = ''
    said.value = 'Saved. Plans made from now on use it.'
  } catch (error) {
    trouble.value = wordsOf(error)
  } finally {
    isBusy.value = false
  }
}
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>Bench</h1>
        <p class="quiet">Who works when, what the shop has, and where instruments are reached</p>
      </div>
    </header>
    <StateView
      v-if="loadTrouble && !data"
      kind="trouble"
      title="The bench cannot be shown"
      :says="loadTrouble"
    >
      <button class="press press-main" @click="load">Try again</button>
    </StateView>
    <StateView v-else-if="!draft" kind="busy" title="Looking at the bench…" />
    <form v-else class="bench" @submit.prevent="save">
      <section class="sheet part" aria-labelledby="hands">
        <h2 id="hands">Hands</h2>
        <p class="quiet">
          One to four pairs. They know what each panel carries, so whoever grades blind had better not be one
          of them.
        </p>
        <HandsHours
          v-for="(_, index) in draft.hands"
          :key="index"
          v-model="draft.hands[index]!"
          :number="index + 1"
          @remove="draft.hands.splice(index, 1)"
        />
        <button
          v-if="draft.hands.length < MAX_HANDS"
          type="button"
          class="press"
          @click="draft.hands.push(newHands())"
        >
          Add a pair of hands
        </button>
      </section>
      <section class="sheet part" aria-labelledby="shop">
        <h2 id="shop">The shop</h2>
        <div class="figures">
          <label for="bench-zone">Time zone</label>
          <span class="row">
            <input id="bench-zone" v-model="draft.time_zone" class="box" />
            <button
              v-if="draft.time_zone !== here"
              type="button"
              class="press"
              @click="draft.time_zone = here"
            >
              This device’s: {{ here }}
            </button>
          </span>
          <label for="bench-blocks">Heat blocks</label>
          <QuantityInput id="bench-blocks" v-model="draft.heat_blocks" quantity="count" />
          <label for="bench-irons">Irons</label>
          <QuantityInput id="bench-irons" v-model="draft.irons" quantity="count" />
          <label for="bench-rack">Rack places for wet panels</label>
          <QuantityInput
            id="bench-rack"
            v-model="draft.rack_places"
            quantity="count"
            placeholder="no limit"
          />
          <label for="bench-cleanup">Clean-up between products</label>
          <QuantityInput id="bench-cleanup" v-model="draft.cleanup_min" quantity="minutes" />
          <label for="bench-airing">Airing after open solvent, before a hot test</label>
          <QuantityInput id="bench-airing" v-model="draft.airing_min" quantity="minutes" />
          <label for="bench-cup">Smallest step of the syringe or cup</label>
          <QuantityInput id="bench-cup" v-model="draft.cup_step_ml" quantity="millilitres" />
          <label for="bench-scale">Smallest step of the scale</label>
          <QuantityInput id="bench-scale" v-model="draft.scale_step_g" quantity="grams" />
          <label for="bench-currency">Sign behind prices</label>
          <input id="bench-currency" v-model="draft.currency" class="box sign" maxlength="8" />
          <template v-for="thinner in THINNERS" :key="thinner.id">
            <label :for="`bench-${thinner.id}`">{{ thinner.name }}</label>
            <QuantityInput
              :id="`bench-${thinner.id}`"
              :model-value="draft.thinner_prices[thinner.id] ?? null"
              quantity="price"
              placeholder="no price"
              @update:model-value="draft.thinner_prices[thinner.id] = $event"
            />
          </template>
        </div>
      </section>
      <section class="sheet part" aria-labelledby="paces">
        <h2 id="paces">How long you take</h2>
        <p class="quiet">
          Minutes a square metre, beside a quarter of a minute to pick a panel up. Empty for what is usual;
          what your own log shows stands beside it.
        </p>
        <PaceRows v-model="draft.paces" :paces="data?.paces ?? []" />
      </section>
      <section class="sheet part" aria-labelledby="instruments">
        <h2 id="instruments">Instruments</h2>
        <p class="quiet">
          A serial port such as <span class="mono">/dev/ttyUSB0</span>, or
          <span class="mono">socket://127.0.0.1:8331</span>; empty for none. Every value can be typed as well.
        </p>
        <InstrumentRow
          v-for="instrument in draft.instruments"
          :key="instrument.kind"
          v-model="instrument.address"
          :kind="instrument.kind"
          :name="instrument.name"
          :saved="data?.instruments.find((each) => each.kind === instrument.kind)?.address ?? ''"
          :disabled="!ownsShop"
        />
        <p v-if="!ownsShop" class="quiet">Only an owner sets the addresses.</p>
      </section>
      <div class="row">
        <button class="press press-main" :disabled="isBusy">Save the bench</button>
        <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
        <p v-else-if="said" class="quiet" role="status">{{ said }}</p>
      </div>
    </form>
  </div>
</template>

<style scoped>
.bench {
  display: flex;
  flex-direction: column;
  gap: 18px;
  max-width: 860px;
}
.part {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 12px;
  padding: 16px 18px;
}
.sign {
  width: 90px;
}
.figures {
  display: grid;
  grid-template-columns: minmax(160px, auto) minmax(0, 1fr);
  gap: 8px 18px;
  align-items: center;
}
.figures :deep(.quantity) {
  width: 140px;
}
.box {
  width: 200px;
}
</style>
