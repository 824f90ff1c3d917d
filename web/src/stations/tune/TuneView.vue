<script setup lang="ts">
import { NButton, NCheckbox, NInput, NModal, NSelect, NSpin, useMessage } from 'naive-ui'
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue'
import {
  checkTune,
  largestStep,
  learnedOnBench,
  takingWords,
  tuneTaking,
  computeBaseTune,
  CoreError,
  nearestIndex,
  parameterSpecs,
  tableNames,
  tableSpecs,
  takeParts,
  type ParameterKey,
  type TableName,
  type TuneDocument,
  type TuneParameters,
  problemFinding,
  type Tune,
  TuneAnswer,
} from '@vectum/core'
import type { ApiError } from '../../api/client.ts'
import { api } from '../../api/client.ts'
import RoomTabs from '../../kit/RoomTabs.vue'
import StationHead from '../../kit/StationHead.vue'
import FindingCard from '../../shell/FindingCard.vue'
import { useBuild } from '../../stores/build.ts'
import { useLive } from '../../stores/live.ts'
import AxisEditor from './AxisEditor.vue'
import ParameterList from './ParameterList.vue'
import RunnerGrid from './RunnerGrid.vue'
import SetupAgain from './SetupAgain.vue'
import SliceChart from './SliceChart.vue'
import TableGrid from './TableGrid.vue'
import TableSurface from './TableSurface.vue'
import TuneFiles from './TuneFiles.vue'
import TuneProposals from './TuneProposals.vue'
import { useTuneEditor } from './use-tune-editor.ts'

const builds = useBuild()
const message = useMessage()
const build = computed(() => builds.current!)
const versions = computed(() => build.value.tunes)
const chosen = ref<string | null>(versions.value.find((t) => t.status === 'in-car')?.id ?? versions.value.at(-1)?.id ?? null)
const tune = ref<Tune | null>(null)
const other = ref<Tune | null>(null)
const compareWith = ref<string | null>(null)
const error = ref<string | null>(null)
const busy = ref(false)
const editor = useTuneEditor(tune, () => build.value.facts)
const { table, block, tables, spec } = editor
const page = ref<'tables' | 'parameters' | 'runner'>('tables')
/** parameters changed on this page, not saved yet */
const parameterDraft = shallowRef<TuneParameters | null>(null)
const edited = computed(() => editor.edited.value || parameterDraft.value !== null)
const parameters = computed(() => parameterDraft.value ?? tune.value?.document.parameters ?? null)
/** what the set-up of today would compute, beside this version */
const again = shallowRef<TuneDocument | null>(null)
function forget(): void {
  editor.forget()
  parameterDraft.value = null
}
const amount = ref('')

async function fetchTune(id: string): Promise<Tune> {
  return api(`/builds/${build.value.id}/tunes/${id}`, TuneAnswer)
}
watch(
  chosen,
  async (id) => {
    error.value = null
    tune.value = null
    parameterDraft.value = null
    again.value = null
    if (!id) return
    try {
      tune.value = await fetchTune(id)
    } catch (e) {
      error.value = (e as ApiError).message
    }
  },
  { immediate: true },
)
watch(compareWith, async (id) => (other.value = id ? await fetchTune(id).catch(() => null) : null))
const compareCells = computed(() =>
  other.value &&
  tune.value &&
  other.value.document.axes.rpm.join() === tune.value.document.axes.rpm.join() &&
  other.value.document.axes.mapKpa.join() === tune.value.document.axes.mapKpa.join()
    ? other.value.document.tables[table.value]
    : null,
)
/** the docket judges this version; what another one's own checks say is shown under its table */
const judged = computed(() => (versions.value.find((t) => t.status === 'in-car') ?? versions.value.at(-1))?.id ?? null)
const problems = computed(() =>
  tune.value && tables.value ? checkTune({ ...tune.value.document, tables: tables.value, parameters: parameters.value! }, build.value) : [],
)
const rehearsing = computed(() => builds.view === 'rehearsal')
/** as the view has it: the bench's unit may hold another version than the car's */
const status = computed(() => versions.value.find((t) => t.id === chosen.value)?.status ?? 'draft')
const statusWord = { draft: 'draft', ready: 'ready', 'in-car': 'in the car', retired: 'retired' } as const

/** Runs a call, shows what went wrong, and reads the build again when it worked. */
async function doing<T>(work: () => Promise<T>): Promise<T | null> {
  busy.value = true
  error.value = null
  try {
    const result = await work()
    await builds.reload()
    return result
  } catch (e) {
    error.value = (e as ApiError).message
    return null
  } finally {
    busy.value = false
  }
}
async function compute(): Promise<void> {
  const made = await doing(() => api(`/builds/${build.value.id}/tunes`, TuneAnswer, { method: 'POST', body: { id: crypto.randomUUID() } }))
  if (made) chosen.value = made.id
}
async function saveEdit(): Promise<void> {
  const from = tune.value
  if (!from || !tables.value) return
  const changed: string[] = tableNames.filter((n) => tables.value![n].join() !== from.document.tables[n].join())
  const { parameters: before } = from.document
  for (const key of Object.keys(parameterSpecs) as ParameterKey[])
    if (JSON.stringify(before[key]) !== JSON.stringify(parameters.value![key])) changed.push(key)
  const document = {
    ...from.document,
    tables: tables.value,
    parameters: parameters.value!,
    provenance: {
      ...from.document.provenance,
      ...Object.fromEntries(changed.map((n) => [n, `edited by hand from version ${from.number}`])),
    },
  }
  const made = await doing(() =>
    api(`/builds/${build.value.id}/tunes`, TuneAnswer, {
      method: 'POST',
      body: { id: crypto.randomUUID(), document, origin: 'edited', parentId: from.id },
    }),
  )
  if (made) {
    forget()
    chosen.value = made.id
    message.success(`Saved as version ${made.number}; version ${from.number} stays as it was.`)
  }
}
function computeAgain(): void {
  error.value = null
  try {
    again.value = computeBaseTune(build.value.facts, build.value.choices)
  } catch (e) {
    if (!(e instanceof CoreError)) throw e
    error.value = e.message
  }
}
async function storeDocument(document: TuneDocument, parentId: string): Promise<Tune | null> {
  const made = await doing(() =>
    api(`/builds/${build.value.id}/tunes`, TuneAnswer, {
      method: 'POST',
      body: { id: crypto.randomUUID(), document, origin: 'edited', parentId },
    }),
  )
  if (made) chosen.value = made.id
  return made
}
async function takeSetup(ids: string[]): Promise<void> {
  const from = tune.value
  if (!from || !again.value) return
  const made = await storeDocument(takeParts(from.document, again.value, ids), from.id)
  if (made) {
    again.value = null
    message.success(`Saved as version ${made.number}; version ${from.number} stays as it was.`)
  }
}
async function takeDocument(document: TuneDocument): Promise<void> {
  const from = tune.value
  if (!from) return
  const made = await storeDocument(document, from.id)
  if (made) message.success(`Saved as version ${made.number}; version ${from.number} stays as it was.`)
}
// the cell the engine is in now, while it is watched
const live = useLive()
const following = ref(false)
watch(following, (on) => (on ? live.open(build.value.id) : live.close()))
onBeforeUnmount(() => live.close())
const steepest = computed(() => {
  if (!tune.value || !tables.value) return null
  const { axes, tables: saved } = tune.value.document
  const { step, i, j } = largestStep(axes, tables.value[table.value])
  const was = largestStep(axes, saved[table.value]).step
  return { now: step, was: Math.abs(was - step) > 1e-9 ? was : null, rpm: axes.rpm[i], mapKpa: axes.mapKpa[j] }
})
const taking = computed(() => tuneTaking(builds.context!))
const operating = computed(() => {
  const f = live.frame
  if (!following.value || !f || f.mapKpa === null || !tune.value || f.rpm < 50) return null
  const { rpm, mapKpa } = tune.value.document.axes
  return { i: nearestIndex(rpm, f.rpm), j: nearestIndex(mapKpa, f.mapKpa) }
})
/** a version learned on the bench fits a simulated car: before it goes into a real one a person says so */
const asking = ref(false)
const ofBench = computed(() => {
  const version = versions.value.find((t) => t.id === chosen.value)
  return version && !rehearsing.value ? learnedOnBench(build.value, version) : null
})
function putIn(): void {
  if (ofBench.value) asking.value = true
  else void setStatus('in-car')
}
async function setStatus(status: 'ready' | 'in-car'): Promise<void> {
  asking.value = false
  if (!tune.value) return
  const next = await doing(() =>
    api(`/builds/${build.value.id}/tunes/${tune.value!.id}`, TuneAnswer, {
      method: 'PATCH',
      // practising puts it into the bench's unit, and the car keeps its own
      body: { status, ...(rehearsing.value && status === 'in-car' ? { view: 'rehearsal' } : {}) },
    }),
  )
  if (next) tune.value = next
}
function withAmount(use: (value: number) => void): void {
  const value = Number(amount.value.replace(',', '.'))
  if (amount.value.trim() === '' || !Number.isFinite(value)) {
    message.warning('Type a number first.')
    return
  }
  use(value)
}
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
const options = computed(() =>
  versions.value
    .map((t) => ({
      value: t.id,
      label: `${t.number}  ${t.name}, ${statusWord[t.status]}${learnedOnBench(build.value, t) ? ', learned on the bench' : ''}`,
    }))
    .reverse(),
)
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
    <n-modal v-model:show="asking" preset="card" title="Learned on the bench" style="max-width: 560px">
      <p v-if="ofBench">
        Version {{ ofBench.number }} was corrected from a rehearsed drive: it fits a simulated car, not this one. Put a computed version in
        the car, or one learned from a drive of this car.
      </p>
      <div class="act">
        <n-button type="primary" size="large" @click="asking = false">Leave the car as it is</n-button>
        <n-button size="large" data-testid="bench-tune-anyway" @click="setStatus('in-car')">Put it in the car all the same</n-button>
      </div>
    </n-modal>
    <div v-if="!versions.length" class="empty">
      <p>
        No tune yet. It is computed from the survey: VE, target lambda and spark over speed and manifold pressure, with every starting value
        and where it came from.
      </p>
      <n-button type="primary" size="large" :loading="busy" @click="compute">Compute the base tune</n-button>
    </div>
    <template v-else>
      <div class="versions">
        <n-select v-model:value="chosen" :options="options" aria-label="Tune version" class="pick" />
        <n-button v-if="tune && status === 'draft'" :disabled="edited || busy" @click="setStatus('ready')">Mark ready</n-button>
        <n-button v-if="tune && status !== 'in-car'" type="primary" :disabled="edited || busy" @click="putIn">Put in the car</n-button>
        <n-button :disabled="!tune" @click="computeAgain">Set up again</n-button>
        <router-link
          v-if="taking.tune"
          class="taking"
          :class="{ stop: taking.differences }"
          :to="{ name: 'start', params: { id: build.id } }"
          >version {{ taking.tune.number }} in the car: {{ takingWords[taking.step]
          }}{{ taking.differences ? ', NOT equal' : '' }}</router-link
        >
      </div>
      <n-spin v-if="!tune && !error" description="reading the tune" />
      <setup-again v-if="again && tune" :have="tune.document" :fresh="again" @take="takeSetup" @close="again = null" />
      <template v-if="tune && tables && slice && parameters">
        <div class="tabs-line">
          <room-tabs v-model="room" label="Tables and parameters" :tabs="rooms" />
          <n-select
            v-model:value="compareWith"
            clearable
            :options="options.filter((o) => o.value !== chosen)"
            placeholder="compare with"
            class="compare"
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
        <div v-if="page === 'tables'" class="tools">
          <n-input
            v-model:value="amount"
            placeholder="number"
            class="amount"
            :input-props="{ inputmode: 'decimal', 'aria-label': 'Number for the block' }"
          />
          <n-button @click="withAmount(editor.set)">Set</n-button>
          <n-button @click="withAmount(editor.add)">Add</n-button>
          <n-button @click="withAmount(editor.scale)">Scale %</n-button>
          <n-button @click="editor.interpolate()">Fill between corners</n-button>
          <n-button @click="editor.smooth()">Smooth</n-button>
          <n-button :disabled="!editor.canUndo.value" @click="editor.undo()">Undo</n-button>
          <n-button :disabled="!editor.canRedo.value" @click="editor.redo()">Redo</n-button>
          <span v-if="steepest" class="soft" data-testid="steepest"
            >largest step {{ steepest.now.toFixed(spec.decimals)
            }}{{ steepest.was !== null ? `, was ${steepest.was.toFixed(spec.decimals)}` : '' }}, at {{ steepest.rpm }} rpm,
            {{ steepest.mapKpa }} kPa</span
          >
        </div>
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
        <div v-if="page === 'tables'" class="slices">
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
          <span class="soft">{{ tune.document.provenance[table] }}</span>
        </div>
      </template>
    </template>
  </div>
</template>

<style scoped>
.taking {
  align-self: center;
  font-size: var(--t2);
}
.versions,
.tools,
.files,
.unsaved {
  display: flex;
  gap: var(--s2);
  align-items: center;
  flex-wrap: wrap;
  margin-bottom: var(--s3);
}
.pick {
  flex: 1;
  min-width: 200px;
}
.tabs-line {
  display: flex;
  align-items: center;
  gap: var(--s3);
  margin-bottom: var(--s3);
}
.tabs-line .tabs {
  flex: 1;
  margin: 0;
}
.compare {
  width: 180px;
}
.tools :deep(.n-button) {
  --n-padding: 0 11px !important;
}
.amount {
  width: 92px;
}
.slices {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--s5);
  margin: var(--s3) 0;
}
.unsaved {
  border-left: 5px solid var(--warn);
  padding: var(--s2) var(--s3);
  background: var(--paper);
  margin-top: var(--s2);
}
.files .soft {
  flex: 1;
  font-size: var(--t1);
}
</style>
