<script setup lang="ts">
import { NButton, NCheckbox, NSelect, NSpin, useMessage } from 'naive-ui'
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue'
import {
  checkTune,
  nearestIndex,
  parameterSpecs,
  tableNames,
  tableSpecs,
  takeParts,
  type TableName,
  type TuneDocument,
  type TuneParameters,
  problemFinding,
  type Tune,
} from '@vectum/core'
import RoomTabs from '../../kit/RoomTabs.vue'
import StationHead from '../../kit/StationHead.vue'
import FindingCard from '../../shell/FindingCard.vue'
import { useLanding } from '../../shell/landing.ts'
import { useLive } from '../../stores/live.ts'
import AxisEditor from './AxisEditor.vue'
import BlockTools from './BlockTools.vue'
import ParameterList from './ParameterList.vue'
import RunnerGrid from './RunnerGrid.vue'
import SetupAgain from './SetupAgain.vue'
import SliceChart from './SliceChart.vue'
import TableGrid from './TableGrid.vue'
import TableSurface from './TableSurface.vue'
import TuneFiles from './TuneFiles.vue'
import TuneProposals from './TuneProposals.vue'
import TuneVersions from './TuneVersions.vue'
import { useComparedTune } from './use-compared-tune.ts'
import { editedDocument, useTuneEditor } from './use-tune-editor.ts'
import { useTuneVersions } from './use-tune-versions.ts'

const message = useMessage()
const all = useTuneVersions()
const { build, versions, chosen, tune, error, busy, again, fetchTune, doing, compute, storeEdited, options, judged } = all
const editor = useTuneEditor(tune, () => build.value.facts)
const { table, block, tables, spec } = editor
const page = ref<'tables' | 'parameters' | 'runner'>('tables')
const landing = useLanding()
watch(landing.at, (key) => key && key in parameterSpecs && (page.value = 'parameters'), { immediate: true })
/** parameters changed on this page, not saved yet */
const parameterDraft = shallowRef<TuneParameters | null>(null)
watch(chosen, () => (parameterDraft.value = null))
const edited = computed(() => editor.edited.value || parameterDraft.value !== null)
const parameters = computed(() => parameterDraft.value ?? tune.value?.document.parameters ?? null)
function forget(): void {
  editor.forget()
  parameterDraft.value = null
}
const { compareWith, compareCells } = useComparedTune(tune, table, fetchTune)
const problems = computed(() =>
  tune.value && tables.value ? checkTune({ ...tune.value.document, tables: tables.value, parameters: parameters.value! }, build.value) : [],
)
/** Stores a document as a version after the one it was edited from. */
async function storeAfter(from: Tune, document: TuneDocument): Promise<boolean> {
  const made = await storeEdited(document, from.id)
  if (made) message.success(`Saved as version ${made.number}; version ${from.number} stays as it was.`)
  return made !== null
}
async function saveEdit(): Promise<void> {
  const from = tune.value
  if (!from || !tables.value) return
  if (await storeAfter(from, editedDocument(from, tables.value, parameters.value!))) forget()
}
async function takeSetup(ids: string[]): Promise<void> {
  const from = tune.value
  if (from && again.value && (await storeAfter(from, takeParts(from.document, again.value, ids)))) again.value = null
}
async function takeDocument(document: TuneDocument): Promise<void> {
  if (tune.value) await storeAfter(tune.value, document)
}
// the cell the engine is in now, while it is watched
const live = useLive()
const following = ref(false)
watch(following, (on) => (on ? live.open(build.value.id) : live.close()))
onBeforeUnmount(() => live.close())
const operating = computed(() => {
  const f = live.frame
  if (!following.value || !f || f.mapKpa === null || !tune.value || f.rpm < 50) return null
  const { rpm, mapKpa } = tune.value.document.axes
  return { i: nearestIndex(rpm, f.rpm), j: nearestIndex(mapKpa, f.mapKpa) }
})
function paste(text: string): void {
  const problem = editor.pasteTsv(text)
  if (problem) message.warning(problem)
}
const copy = () => void navigator.clipboard?.writeText(editor.blockTsv())
const step = computed(() => (table.value === 'lambdaTarget' ? 0.005 : 0.5))
const slice = computed(() => {
  if (!tune.value || !tables.value) return null
  const { rpm, mapKpa } = tune.value.document.axes
  const { i1, j1 } = block.value
  const cells = tables.value[table.value]
  return {
    row: { x: rpm, y: rpm.map((_, i) => cells[j1 * rpm.length + i]), marked: i1, caption: `along rpm at ${mapKpa[j1]} kPa` },
    column: { x: mapKpa, y: mapKpa.map((_, j) => cells[j * rpm.length + i1]), marked: j1, caption: `along kPa at ${rpm[i1]} rpm` },
  }
})
const rooms = computed(() => [
  ...tableNames.map((id) => ({
    id,
    title: id === 'lambdaTarget' ? tableSpecs[id].label : `${tableSpecs[id].label}, ${tableSpecs[id].unit}`,
  })),
  ...(tune.value?.document.runner ? [{ id: 'runner', title: 'VE by throttle' }] : []),
  { id: 'parameters', title: 'Parameters' },
])
const room = computed({
  get: () => (page.value === 'tables' ? table.value : page.value),
  set: (id: string) => {
    if (id === 'runner' || id === 'parameters') page.value = id
    else {
      page.value = 'tables'
      table.value = id as TableName
    }
  },
})
</script>

<template>
  <div>
    <station-head title="Base tune" line="Will it start, idle and be safe at full load on the first turn of the key?" />
    <p v-if="error" class="stop" role="alert">{{ error }}</p>
    <div v-if="!versions.length" class="empty">
      <p>
        No tune yet. It is computed from the survey: VE, target lambda and spark over speed and manifold pressure, with every starting value
        and where it came from.
      </p>
      <n-button type="primary" size="large" :loading="busy" @click="compute">Compute the base tune</n-button>
    </div>
    <template v-else>
      <tune-versions :versions="all" :edited="edited" />
      <n-spin v-if="!tune && !error" description="reading the tune" />
      <setup-again v-if="again && tune" :have="tune.document" :fresh="again" @take="takeSetup" @close="again = null" />
      <template v-if="tune && tables && slice && parameters">
        <div class="tabs-line flex items-center gap-3 mb-3">
          <room-tabs v-model="room" label="Tables and parameters" :tabs="rooms" />
          <n-select
            v-model:value="compareWith"
            clearable
            :options="options.filter((o) => o.value !== chosen)"
            placeholder="compare with"
            class="compare w-180px"
            size="small"
            aria-label="Compare with another version"
          />
        </div>
        <runner-grid v-if="page === 'runner' && tune.document.runner" :tune="tune" :busy="busy" @take="takeDocument" />
        <tune-proposals v-if="page === 'parameters'" :parameters="parameters" @change="parameterDraft = $event" />
        <parameter-list
          v-if="page === 'parameters'"
          :parameters="parameters"
          :saved="tune.document.parameters"
          :provenance="tune.document.provenance"
          @change="parameterDraft = $event"
        />
        <block-tools v-if="page === 'tables'" :editor="editor" :tune="tune" />
        <table-grid
          v-if="page === 'tables'"
          v-model:block="block"
          :operating="operating"
          :axes="tune.document.axes"
          :cells="tables[table]"
          :decimals="table === 'lambdaTarget' ? 2 : 1"
          :min="spec.min"
          :max="spec.max"
          :compare="compareCells"
          editable
          :label="spec.label"
          @set="editor.set"
          @step="(d) => editor.add(d * step)"
          @undo="editor.undo()"
          @redo="editor.redo()"
          @paste="paste"
          @copy="copy"
        />
        <div v-if="edited" class="unsaved" role="status">
          <span>Edited, not saved. It becomes a new version; this one stays.</span>
          <n-button type="primary" :loading="busy" @click="saveEdit">Save as new version</n-button>
          <n-button @click="forget">Drop the edits</n-button>
        </div>
        <div v-if="page === 'tables'" class="grid grid-cols-[1fr_1fr] gap-5 my-3 mx-0">
          <slice-chart v-bind="slice.row" :decimals="spec.decimals" />
          <slice-chart v-bind="slice.column" :decimals="spec.decimals" />
        </div>
        <table-surface
          v-if="page === 'tables'"
          :axes="tune.document.axes"
          :cells="tables[table]"
          :label="spec.label"
          :marked="operating ?? { i: block.i1, j: block.j1 }"
        />
        <axis-editor v-if="page === 'tables' && !edited" :tune="tune.document" :busy="busy" @take="takeDocument" />
        <finding-card v-for="p in edited || chosen !== judged ? problems : []" :key="p.code" :finding="problemFinding(p)" />
        <div class="files">
          <tune-files :tune="tune" :table="table" :busy="doing" @stored="chosen = $event.id" @problem="error = $event" />
          <n-checkbox v-model:checked="following" label="Follow the engine" />
          <span class="soft flex-1 text-t1">{{ tune.document.provenance[table] }}</span>
        </div>
      </template>
    </template>
  </div>
</template>

<style scoped>
.files,
.unsaved {
  display: flex;
  gap: var(--s2);
  align-items: center;
  flex-wrap: wrap;
  margin-bottom: var(--s3);
}
.tabs-line .tabs {
  flex: 1;
  margin: 0;
}
.unsaved {
  border-left: 5px solid var(--warn);
  padding: var(--s2) var(--s3);
  background: var(--paper);
  margin-top: var(--s2);
}
</style>
