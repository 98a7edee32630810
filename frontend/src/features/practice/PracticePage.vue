<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, body, wordsOf } from '@/api/client'
import { useLoaded } from '@/api/useLoaded'
import { kappaWords } from '@/kit/agreement'
import { DRAWN, nameWithin, responseOf } from '@/kit/responses'
import StateView from '@/kit/StateView.vue'
import StepDrawings from '@/kit/mark/StepDrawings.vue'
import DrillBench from './DrillBench.vue'
import ProgressPlot from './ProgressPlot.vue'
import { againWords, leanWords, type Drill } from './model'

/** Reading marks that were drawn, to learn how one reads: without a trial, and of one's own. */
const practice = useLoaded(() => body(api.GET('/api/practice')), [])
const { data, trouble } = practice
const drill = ref<Drill | null>(null)
const isAtWork = ref(false)
const scale = ref('grade')
const nMarks = ref(20)
const says = ref('')
const isShowing = ref(false)

const name = computed(() => responseOf(scale.value).name)
const own = computed(() => (data.value?.drills ?? []).filter((each) => each.response === scale.value))
const result = computed(() => (drill.value?.finished_at ? drill.value.result : null))

async function attempt(work: () => Promise<Drill>): Promise<void> {
  try {
    drill.value = await work()
    scale.value = drill.value.response
    isAtWork.value = true
    says.value = ''
  } catch (error) {
    says.value = wordsOf(error)
  }
}
const begin = () =>
  attempt(() => body(api.POST('/api/practice', { body: { response: scale.value, n_marks: nMarks.value } })))
const goOn = (id: number) =>
  attempt(() => body(api.GET('/api/practice/drills/{drill_id}', { params: { path: { drill_id: id } } })))
async function over(): Promise<void> {
  isAtWork.value = false
  await practice.load()
}
async function show(shows: boolean): Promise<void> {
  try {
    data.value = await body(api.PATCH('/api/practice', { body: { shows } }))
  } catch (error) {
    says.value = wordsOf(error)
  }
}
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>Practice</h1>
        <p class="quiet">
          Marks drawn from a known step, under a lamp that you move. What was drawn is told once you have read
          it.
        </p>
      </div>
      <button v-if="isAtWork" class="press" @click="over">Leave it for later</button>
    </header>

    <StateView v-if="trouble" kind="trouble" title="Practice cannot be shown" :says="trouble">
      <button class="press press-main" @click="practice.load">Try again</button>
    </StateView>
    <StateView v-else-if="!data" kind="busy" title="Laying the marks out…" />
    <DrillBench
      v-else-if="drill && isAtWork"
      :drill="drill"
      @read="(found) => (drill = found)"
      @over="over"
    />
    <template v-else>
      <section v-if="result && drill" class="sheet part" aria-labelledby="went-title">
        <h2 id="went-title">How it went: {{ nameWithin(drill.response) }}</h2>
        <ul>
          <li>
            You agree with what was drawn <b>{{ kappaWords(result.kappa) }}</b>
            <small class="quiet">weighted kappa, chance is 0</small>
          </li>
          <li>
            {{ Math.round(result.exact_share * result.n_marks) }} of {{ result.n_marks }} marks read as they
            were drawn
          </li>
          <li v-if="leanWords(result, drill.response)">
            On the whole {{ leanWords(result, drill.response) }}
          </li>
          <li v-if="againWords(result)">{{ againWords(result) }}</li>
        </ul>
      </section>

      <section class="sheet part begin" aria-labelledby="begin-title">
        <h2 id="begin-title">A drill</h2>
        <div class="row">
          <label
            >Of
            <select v-model="scale">
              <option v-for="each in DRAWN" :key="each" :value="each">{{ responseOf(each).name }}</option>
            </select></label
          >
          <label
            >marks
            <input v-model.number="nMarks" type="number" min="5" max="60" inputmode="numeric" class="mono"
          /></label>
          <button class="press press-main" @click="begin">Begin</button>
          <button v-if="data.open_drill" class="press" @click="goOn(data.open_drill)">
            Go on with the one that was left
          </button>
          <button class="press" :aria-expanded="isShowing" @click="isShowing = !isShowing">
            What each step looks like
          </button>
        </div>
        <p v-if="says" class="caution" role="alert">{{ says }}</p>
        <p class="quiet">
          One mark in five comes again. Smell, how a coat went on and what pleases cannot be drawn.
        </p>
        <StepDrawings v-if="isShowing" :response="scale" />
      </section>

      <section class="sheet part" aria-labelledby="progress-title">
        <h2 id="progress-title">Over time: {{ name.toLowerCase() }}</h2>
        <p v-if="!own.length" class="quiet">No drill of it is finished yet.</p>
        <div v-else class="progress">
          <ProgressPlot :drills="own" :name="name" />
          <table class="plain">
            <thead>
              <tr>
                <th scope="col">Day</th>
                <th scope="col">Agrees</th>
                <th scope="col">Leans</th>
                <th scope="col">Seen twice</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="each in [...own].reverse()" :key="each.id">
                <td>{{ new Date(each.finished_at).toLocaleDateString() }}</td>
                <td>{{ kappaWords(each.result.kappa) }}</td>
                <td>{{ leanWords(each.result, each.response) || '–' }}</td>
                <td>{{ againWords(each.result) }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <label class="wish">
          <input
            type="checkbox"
            :checked="data.shows"
            @change="show(($event.target as HTMLInputElement).checked)"
          />
          Let the evidence of the trials that I judge tell how well I read
        </label>
      </section>
    </template>
  </div>
</template>

<style scoped>
.part {
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 16px 18px;
}
ul {
  margin: 0;
  padding-left: 18px;
}
.begin .row {
  flex-wrap: wrap;
  gap: 10px 16px;
}
label {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 44px;
}
select,
input[type='number'] {
  min-height: 44px;
  padding: 0 8px;
  border: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink);
}
input[type='number'] {
  width: 72px;
}
.progress {
  display: flex;
  flex-wrap: wrap;
  gap: 16px 28px;
  align-items: flex-start;
}
.plain {
  width: auto;
}
.plain td,
.plain th {
  padding: 4px 14px 4px 0;
  text-align: left;
}
</style>
