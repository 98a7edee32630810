<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { ref } from 'vue'
import { Problem, readProblem } from '@/api/client'
import ChoiceBar from '@/kit/ChoiceBar.vue'
import { PAPERS, sheetAddress, SHEETS, type Board } from './model'

/** Labels, templates and lists to print at true size, on the paper that this browser's printer has. */
const props = defineProps<{ trialId: number; boards: readonly Board[] }>()

const paper = useStorage<string>('nublet.paper', 'a4')
const board = ref(0)
/** The sheet that is being drawn, and why the last one was not. */
const busy = ref('')
const trouble = ref('')

/** Fetch the file here rather than by following the link, so that a refusal can be read. */
async function fetchSheet(sheet: string, form: 'pdf' | 'zip'): Promise<void> {
  busy.value = `${sheet}.${form}`
  trouble.value = ''
  try {
    const answer = await fetch(sheetAddress(props.trialId, sheet, form, paper.value, board.value))
    if (!answer.ok) throw await readProblem(answer)
    const named = /filename="([^"]+)"/.exec(answer.headers.get('Content-Disposition') ?? '')
    const link = document.createElement('a')
    link.href = URL.createObjectURL(await answer.blob())
    link.download = named?.[1] ?? `${sheet}.${form}`
    link.click()
    window.setTimeout(() => URL.revokeObjectURL(link.href), 60_000)
  } catch (error) {
    trouble.value =
      error instanceof Problem ? error.message : 'No answer from the server. Check the network and try again.'
  } finally {
    busy.value = ''
  }
}
</script>

<template>
  <section class="sheet print" aria-labelledby="to-print">
    <header class="row">
      <h2 id="to-print">To print</h2>
      <ChoiceBar label="Paper" :options="PAPERS" :chosen="paper" @choose="(id) => (paper = id)" />
    </header>
    <div class="field">
      <label for="print-board">Of</label>
      <el-select id="print-board" v-model="board">
        <el-option :value="0" label="All boards" />
        <el-option v-for="item in boards" :key="item.id" :value="item.id" :label="item.name" />
      </el-select>
    </div>
    <ul>
      <li v-for="sheet in SHEETS" :key="sheet.id">
        <div>
          <strong>{{ sheet.name }}</strong>
          <span class="quiet">{{ sheet.says }}</span>
        </div>
        <a
          class="press"
          :href="sheetAddress(trialId, sheet.id, 'pdf', paper, board)"
          :aria-label="`${sheet.name} as PDF`"
          download
          @click.prevent="fetchSheet(sheet.id, 'pdf')"
          >PDF</a
        >
        <a
          class="press"
          :href="sheetAddress(trialId, sheet.id, 'zip', paper, board)"
          :aria-label="`${sheet.name} as SVG`"
          download
          @click.prevent="fetchSheet(sheet.id, 'zip')"
          >SVG</a
        >
      </li>
    </ul>
    <p v-if="busy" role="status">Drawing the sheets…</p>
    <p v-if="trouble" class="late" role="alert">{{ trouble }}</p>
    <p class="quiet">
      Print at 100 %: each page has a line to check it by. None names a build-up. A PDF of many templates
      takes some seconds.
    </p>
  </section>
</template>

<style scoped>
.print {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 16px;
}
header {
  justify-content: space-between;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 6px 0;
  border-top: 1px solid var(--hairline);
}
li div {
  display: flex;
  flex: 1;
  flex-direction: column;
}
li .press {
  padding: 0 12px;
}
.field {
  display: grid;
  grid-template-columns: auto 1fr;
  align-items: center;
  gap: 12px;
}
</style>
