<script setup lang="ts">
import { ref } from 'vue'
import { api, body } from '@/api/client'
import PaperProgress from '@/app/PaperProgress.vue'
import { keptPaper, usePaper, type PaperSize } from '@/app/papers'
import ChoiceBar from '@/kit/ChoiceBar.vue'
import { PAPERS, SHEETS, type Board, type SheetForm, type SheetId } from './model'

/** Labels, templates and lists to print at true size, on the paper that this browser's printer has. */
const props = defineProps<{ trialId: number; boards: readonly Board[] }>()

const FORMS: readonly { id: SheetForm; name: string }[] = [
  { id: 'pdf', name: 'PDF' },
  { id: 'zip', name: 'SVG' },
]
const paper = keptPaper()
const board = ref(0)
const { job, isAsking, trouble, make, stop } = usePaper()

const ask = (sheet: SheetId, form: SheetForm): Promise<void> =>
  make(() =>
    body(
      api.POST('/api/trials/{trial_id}/sheets', {
        params: { path: { trial_id: props.trialId } },
        body: { sheet, form, paper: paper.value, board: board.value || null },
      }),
    ),
  )
</script>

<template>
  <section class="sheet print" aria-labelledby="to-print">
    <header class="row">
      <h2 id="to-print">To print</h2>
      <ChoiceBar
        label="Paper"
        :options="PAPERS"
        :chosen="paper"
        @choose="(id) => (paper = id as PaperSize)"
      />
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
        <button
          v-for="form in FORMS"
          :key="form.id"
          class="press"
          :disabled="isAsking"
          :aria-label="`${sheet.name} as ${form.name}`"
          @click="ask(sheet.id, form.id)"
        >
          {{ form.name }}
        </button>
      </li>
    </ul>
    <PaperProgress :job="job" :is-asking="isAsking" :trouble="trouble" @stop="stop" />
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
