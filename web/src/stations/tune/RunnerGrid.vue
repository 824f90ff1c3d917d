<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { checkRunner, CoreError, runnerFromCsv, runnerToCsv, type RunnerTable, type TuneDocument, type Tune } from '@vectum/core'
import CellInput from '../../quantity/CellInput.vue'
import { saveFile } from '../../shell/save-file.ts'
import TableGrid from './TableGrid.vue'
import { useTuneEditor } from './use-tune-editor.ts'

/** VE by throttle of an engine with a throttle to each runner: the same grid, rows by throttle, and where it takes over from manifold pressure. */
const props = defineProps<{ tune: Tune; busy: boolean }>()
const emit = defineEmits<{ take: [document: TuneDocument] }>()
const runner = computed(() => props.tune.document.runner!)
// the editor works on tables over two axes; here the second one is the throttle
const asTable = computed<Tune | null>(() => ({
  ...props.tune,
  id: `${props.tune.id}:runner`,
  document: {
    ...props.tune.document,
    axes: { rpm: props.tune.document.axes.rpm, mapKpa: runner.value.throttlePct },
    tables: { ve: runner.value.ve, lambdaTarget: [], spark: [] },
  },
}))
const editor = useTuneEditor(asTable)
const { block, tables, edited } = editor
const blend = ref({ from: 0, to: 0 })
watch(runner, (r) => (blend.value = { from: r.blendFromPct, to: r.blendToPct }), { immediate: true })
const moved = computed(() => blend.value.from !== runner.value.blendFromPct || blend.value.to !== runner.value.blendToPct)
const problem = ref<string | null>(null)
function put(which: 'from' | 'to', text: string): void {
  const next = { ...blend.value, [which]: Number(text.trim().replace(',', '.')) }
  problem.value = checkRunner({ ...runner.value, blendFromPct: next.from, blendToPct: next.to })
  if (!problem.value) blend.value = next
}
function take(next: RunnerTable, how: string): void {
  const { document } = props.tune
  emit('take', { ...document, runner: next, provenance: { ...document.provenance, runner: how } })
}
function save(): void {
  if (tables.value)
    take(
      { ...runner.value, ve: tables.value.ve, blendFromPct: blend.value.from, blendToPct: blend.value.to },
      `edited by hand from version ${props.tune.number}`,
    )
}
const csvOut = () =>
  saveFile(
    `ve-by-throttle-tune-${props.tune.number}.csv`,
    new Blob([runnerToCsv(runner.value, props.tune.document.axes.rpm)], { type: 'text/csv' }),
  )
async function csvIn(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  try {
    take(runnerFromCsv(await file.text(), runner.value, props.tune.document.axes.rpm), `from ${file.name}`)
    problem.value = null
  } catch (e) {
    if (!(e instanceof CoreError)) throw e
    problem.value = e.message
  }
}
const paste = (text: string) => (problem.value = editor.pasteTsv(text))
const copy = () => void navigator.clipboard?.writeText(editor.blockTsv())
</script>

<template>
  <div v-if="tables" data-testid="runner">
    <p class="soft">{{ tune.document.provenance.runner }}. Rows are the throttle, %; cells are % of the barometer’s charge.</p>
    <div class="act">
      <span>The throttle begins to count at</span>
      <cell-input :value="blend.from" label="Throttle begins to count, %" numeric @commit="(t) => put('from', t)" />
      <span>% and counts alone from</span>
      <cell-input :value="blend.to" label="Throttle counts alone, %" numeric @commit="(t) => put('to', t)" />
      <span>%</span>
      <n-button :disabled="!editor.canUndo.value" @click="editor.undo()">Undo</n-button>
      <n-button :disabled="!editor.canRedo.value" @click="editor.redo()">Redo</n-button>
      <n-button @click="editor.smooth()">Smooth</n-button>
      <n-button size="small" @click="csvOut">CSV out</n-button>
      <label class="csv">CSV in<input type="file" accept=".csv,text/csv" data-testid="runner-csv-in" @change="csvIn" /></label>
    </div>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
    <table-grid
      v-model:block="block"
      :axes="asTable!.document.axes"
      :cells="tables.ve"
      :decimals="1"
      :min="1"
      :max="200"
      editable
      label="VE by throttle"
      rows-are="throttle %"
      @set="editor.set"
      @step="(d) => editor.add(d * 0.5)"
      @undo="editor.undo()"
      @redo="editor.redo()"
      @paste="paste"
      @copy="copy"
    />
    <n-button v-if="edited || moved" type="primary" :loading="busy" data-testid="save-runner" @click="save">Save as new version</n-button>
  </div>
</template>

<style scoped>
.act :deep(.cell) {
  width: 74px;
}
</style>
