<script setup lang="ts">
import { NButton, NProgress, NSelect, useMessage } from 'naive-ui'
import * as Comlink from 'comlink'
import { computed, onMounted, ref, shallowRef } from 'vue'
import {
  averagingGapPct,
  drivenWith,
  latest,
  learnReading,
  learnSetup,
  type LearnCell,
  type LearnResult,
  type LogMapping,
  type LogPreview,
  BenchDriveAnswer,
  ImportedLog,
  LogAnswer,
  type Tune,
  TuneAnswer,
} from '@vectum/core'
import type { ApiError } from '../../api/client.ts'
import { api, upload } from '../../api/client.ts'
import StationHead from '../../kit/StationHead.vue'
import CautionStrip from '../../shell/CautionStrip.vue'
import { useBuild } from '../../stores/build.ts'
import BenchDyno from './BenchDyno.vue'
import CellMap from './CellMap.vue'
import MappingSheet from './MappingSheet.vue'
import TimeStrip from './TimeStrip.vue'
import { useLogWorker } from './use-log-worker.ts'

const MAX_BYTES = 160 * 1024 * 1024
const builds = useBuild()
const message = useMessage()
const { tasks, cancel } = useLogWorker()
const build = computed(() => builds.current!)
const problem = ref<string | null>(null)
const file = shallowRef<File | null>(null)
const preview = shallowRef<LogPreview | null>(null)
const sending = ref<number | null>(null)
let sender: AbortController | null = null
const over = ref(false)
const imported = ref<ImportedLog | null>(null)
const chosen = ref<string | null>(build.value.logs.at(-1)?.id ?? null)
const solving = ref<number | null>(null)
const result = shallowRef<LearnResult | null>(null)
const inCar = shallowRef<Tune | null>(null)
const strip = shallowRef<{ durationS: number; slots: { low: number; high: number }[] } | null>(null)
const tab = ref<'coverage' | 'correction' | 'nearest'>('coverage')
const selected = shallowRef<LearnCell | null>(null)
const accepting = ref(false)
const changes = shallowRef<{ count: number; document: Tune['document'] } | null>(null)
const logOptions = computed(() =>
  [...build.value.logs]
    .reverse()
    .map((l) => ({ value: l.id, label: `${l.name}, ${(l.durationS / 60).toFixed(0)} min${l.source === 'bench' ? ', bench' : ''}` })),
)

async function take(picked: File | null | undefined): Promise<void> {
  problem.value = null
  preview.value = null
  result.value = null
  changes.value = null
  if (!picked) return
  if (picked.size > MAX_BYTES) {
    problem.value = `"${picked.name}" is ${(picked.size / 1048576).toFixed(0)} MB; the largest a log may be is ${MAX_BYTES / 1048576} MB. Cut it into pieces, or export fewer channels.`
    return
  }
  const seen = await tasks().preview(await picked.slice(0, 1 << 18).arrayBuffer())
  if ('refused' in seen) {
    problem.value = `"${picked.name}": ${seen.refused.message}`
    return
  }
  file.value = picked
  preview.value = seen
}
function drop(event: DragEvent): void {
  over.value = false
  void take(event.dataTransfer?.files[0])
}
// one id for one file, so that a second try after a lost answer brings no second log
let uploadId = crypto.randomUUID()
async function confirm(mapping: LogMapping): Promise<void> {
  if (!file.value) return
  sender = new AbortController()
  sending.value = 0
  problem.value = null
  try {
    const form = new FormData()
    form.append('id', uploadId)
    form.append('mapping', JSON.stringify(mapping))
    form.append('file', file.value)
    imported.value = await upload(`/builds/${build.value.id}/logs`, ImportedLog, form, (share) => (sending.value = share), sender.signal)
    uploadId = crypto.randomUUID()
    preview.value = null
    file.value = null
    await builds.reload()
    chosen.value = imported.value.id
    await solve()
  } catch (e) {
    if ((e as Error).name !== 'AbortError') problem.value = (e as ApiError).message
  } finally {
    sending.value = null
  }
}
function cancelAll(): void {
  sender?.abort()
  cancel()
  solving.value = null
  preview.value = null
}

const driving = ref(false)
async function driveBench(): Promise<void> {
  driving.value = true
  problem.value = null
  try {
    const log = await api(`/builds/${build.value.id}/bench/drive`, BenchDriveAnswer, {
      method: 'POST',
      body: { minutes: 20 },
    })
    await builds.reload()
    chosen.value = log.id
    await solve()
  } catch (e) {
    problem.value = (e as Error).message
  } finally {
    driving.value = false
  }
}

async function solve(): Promise<void> {
  if (!chosen.value) return
  problem.value = null
  result.value = null
  strip.value = null
  selected.value = null
  changes.value = null
  solving.value = 0
  const id = chosen.value
  try {
    const log = await api(`/logs/${id}`, LogAnswer)
    const tune = build.value.tunes.find((t) => t.status === 'in-car')
    inCar.value = tune ? await api(`/builds/${build.value.id}/tunes/${tune.id}`, TuneAnswer) : null
    const setup = learnSetup(build.value, inCar.value?.document ?? null)
    const solved = await tasks().solve(
      id,
      log.channels,
      setup,
      Comlink.proxy((share: number) => (solving.value = share)),
    )
    if ('refused' in solved) {
      problem.value = solved.refused.message
      return
    }
    result.value = solved
    strip.value = await tasks().strip(id, log.channels, 'rpm', 720)
    const last = latest(builds.context!.readings, 'learn.result')
    const known = last?.value.logId === id && last.value.tuneId === (tune?.id ?? null)
    if (solved.totals.used > 0 && !known && fits.value) {
      builds.record('learn.result', learnReading(solved, id, tune?.id ?? null))
    }
  } catch (e) {
    problem.value = (e as Error).message
  } finally {
    solving.value = null
  }
}
/** an older log was driven with another table: its errors are not this table's */
const fits = computed(() => {
  const log = build.value.logs.find((l) => l.id === chosen.value)
  return (
    !!log &&
    drivenWith(
      log,
      build.value.tunes.find((t) => t.status === 'in-car'),
    )
  )
})
async function prepare(): Promise<void> {
  if (!result.value || !inCar.value) return
  const log = build.value.logs.find((l) => l.id === chosen.value)
  const made = await tasks().correct(
    inCar.value.document,
    result.value,
    `learned from ${log?.name ?? 'a log'} over version ${inCar.value.number}`,
  )
  if ('refused' in made) problem.value = made.refused.message
  else changes.value = { count: made.changes.length, document: made.tune }
}
async function accept(): Promise<void> {
  if (!changes.value || !inCar.value) return
  accepting.value = true
  try {
    const made = await api(`/builds/${build.value.id}/tunes`, TuneAnswer, {
      method: 'POST',
      body: { id: crypto.randomUUID(), document: changes.value.document, origin: 'learned', parentId: inCar.value.id, logId: chosen.value },
    })
    await builds.reload()
    changes.value = null
    message.success(`Version ${made.number} stored. Version ${inCar.value.number} stays to go back to.`)
  } catch (e) {
    problem.value = (e as ApiError).message
  } finally {
    accepting.value = false
  }
}
onMounted(() => {
  if (chosen.value) void solve()
})
const words = {
  proven: 'proven',
  'needs-correction': 'needs correction',
  thin: 'thin',
  'passed-through': 'passed through only',
  untouched: 'untouched',
  unsafe: 'unsafe here',
} as const
const count = (state: keyof typeof words) => result.value?.cells.filter((c) => c.state === state).length ?? 0
const leftOut = computed(() => (result.value ? Object.entries(result.value.totals.excluded).sort((a, b) => b[1] - a[1]) : []))
const nearestGap = computed(() => (result.value ? averagingGapPct(result.value.cells) : null))
</script>

<template>
  <div class="learn" :class="{ over }" @dragover.prevent="over = true" @dragleave="over = false" @drop.prevent="drop">
    <station-head title="Learn" line="Where is the mixture proven, and what should be driven next?" />
    <caution-strip station="learn" />
    <p v-if="problem" class="stop" role="alert" data-testid="log-problem">{{ problem }}</p>
    <mapping-sheet
      v-if="preview && file"
      :preview="preview"
      :file-name="file.name"
      :busy="sending !== null"
      :progress="sending"
      @confirm="confirm"
      @cancel="cancelAll"
    />
    <template v-else>
      <div class="bring">
        <label class="drop"
          ><input
            type="file"
            accept=".csv,.txt,.tsv,.log,text/*"
            data-testid="log-file"
            @change="(e) => take((e.target as HTMLInputElement).files?.[0])"
          /><strong class="head">Drop a log here</strong
          ><span class="soft">or tap to choose; CSV in any dialect, {{ MAX_BYTES / 1048576 }} MB at most</span></label
        >
        <div class="bench">
          <n-button
            dashed
            size="large"
            :loading="driving"
            :disabled="driving || solving !== null"
            data-testid="bench-drive"
            @click="driveBench"
            >Bench: drive 20 minutes</n-button
          >
          <small class="soft">the simulated car on the tune now in it, town, road and hills</small>
        </div>
        <div v-if="build.logs.length" class="which">
          <n-select v-model:value="chosen" :options="logOptions" aria-label="Log" @update:value="solve" />
          <n-button :disabled="solving !== null" @click="solve">Solve again</n-button>
        </div>
      </div>
      <bench-dyno />
      <p v-if="imported && imported.id === chosen && imported.rejected.length" class="soft">
        Left out while reading:
        <template v-for="(r, i) in imported.rejected" :key="i">{{ i ? ', ' : '' }}{{ r.count }} × {{ r.channel }} {{ r.reason }}</template
        >.
      </p>
      <div v-if="solving !== null" class="working" role="status">
        <n-progress type="line" :percentage="Math.round(solving * 100)" :show-indicator="false" />
        <span>solving {{ Math.round(solving * 100) }} %</span>
        <n-button size="small" @click="cancelAll">Cancel</n-button>
      </div>
      <p v-if="!build.logs.length && !problem" class="empty">
        No log yet. Drive with a passenger at the screen or read the log afterwards; steady holds of a few seconds in each cell tell most.
      </p>
      <template v-if="result">
        <div class="tabs" role="tablist">
          <button role="tab" :aria-selected="tab === 'coverage'" @click="tab = 'coverage'">Coverage</button>
          <button role="tab" :aria-selected="tab === 'correction'" @click="tab = 'correction'">Correction</button>
          <button role="tab" :aria-selected="tab === 'nearest'" @click="tab = 'nearest'">Plain averaging, for comparison</button>
        </div>
        <p v-if="tab === 'nearest'" class="soft legend">
          What averaging into the nearest cell would give; it smears.<template v-if="nearestGap !== null">
            It differs from the solve by {{ nearestGap.toFixed(2) }} % rms here.</template
          >
        </p>
        <p v-else class="legend soft">
          <span class="key proven"></span>proven {{ count('proven') }} <span class="key needs"></span>needs correction
          {{ count('needs-correction') }} <span class="key thin"></span>thin {{ count('thin')
          }}{{ tab === 'coverage' ? ', seconds missing' : '' }}
          <template v-if="count('unsafe')"><span class="key unsafe"></span>unsafe {{ count('unsafe') }}</template> ╱ passed through
          {{ count('passed-through') }}
        </p>
        <cell-map v-model:selected="selected" :result="result" :show="tab" data-testid="cell-map" />
        <p class="cellsay" aria-live="polite">
          <template v-if="selected"
            ><strong>{{ selected.rpm }} rpm, {{ selected.mapKpa }} kPa: {{ words[selected.state] }}</strong
            >.
            <template v-if="selected.correctionPct !== null"
              >{{ selected.correctionPct > 0 ? 'Add' : 'Take' }} {{ Math.abs(selected.correctionPct).toFixed(2) }} ±
              {{ selected.standardErrorPct?.toFixed(2) }} % from {{ selected.seconds.toFixed(1) }} s. </template
            ><template v-if="selected.state === 'thin'"
              >About {{ Math.ceil(selected.missingSeconds) }} s more of steady driving here.</template
            ></template
          ><span v-else class="soft">rpm across, manifold pressure kPa up; a number is the fuel still to be added, %. Tap a cell.</span>
        </p>
        <ul class="verdicts">
          <li v-for="v in result.verdicts" :key="v.code" :class="{ stop: v.code.startsWith('unsafe') }">{{ v.message }}</li>
        </ul>
        <time-strip v-if="strip" :slots="strip.slots" :duration-s="strip.durationS" label="Engine speed" />
        <p class="soft sums" data-testid="totals">
          {{ result.totals.used }} of {{ result.totals.samples }} rows used<template v-if="result.totals.provenTimePct !== null"
            >, {{ result.totals.provenTimePct.toFixed(0) }} % of that time in proven cells</template
          >. Left out:
          <template v-for="([reason, n], i) in leftOut" :key="reason">{{ i ? ', ' : '' }}{{ reason.replaceAll('-', ' ') }} {{ n }}</template
          >. Sensor delay {{ result.delay.fitted ? `measured from ${result.delay.events} ends of fuel cuts` : 'assumed' }}:
          {{ result.delay.lagS.toFixed(2) }} s lag.
        </p>
        <div class="accept">
          <template v-if="!changes">
            <n-button type="primary" size="large" :disabled="!inCar || !fits || !result.totals.used" data-testid="prepare" @click="prepare"
              >See the new version</n-button
            >
            <span v-if="!inCar" class="soft">Put a tune in the car first: a correction needs the table it was driven with.</span>
            <span v-else-if="!fits" class="soft"
              >This log is older than the tune now in the car; it cannot correct that one. Drive again and bring the new log.</span
            >
          </template>
          <template v-else>
            <strong>{{ changes.count }} cells of VE change, 10 % at most in one pass.</strong>
            <n-button type="primary" size="large" :loading="accepting" data-testid="accept" @click="accept"
              >Accept as a new version</n-button
            >
            <n-button size="large" @click="changes = null">Not now</n-button>
          </template>
        </div>
      </template>
    </template>
  </div>
</template>

<style scoped>
.bench small {
  display: block;
  line-height: 1.25;
  margin-top: 4px;
}
.learn {
  min-height: 100%;
}
.over {
  outline: 4px dashed var(--data);
  outline-offset: -4px;
}
.bring {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 14px;
  margin-bottom: 10px;
  align-items: center;
}
.drop {
  border: 2px dashed var(--soft);
  padding: 8px 16px;
  cursor: pointer;
  display: block;
  min-height: 60px;
}
.drop:focus-within {
  outline: 3px solid var(--data);
}
.drop input {
  position: absolute;
  opacity: 0;
  width: 1px;
}
.drop strong {
  font-size: var(--t4);
  display: block;
}
.drop span {
  font-size: var(--t1);
}
.which {
  display: flex;
  gap: 8px;
}
.working {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 14px;
  align-items: center;
  margin: 10px 0;
}
.empty {
  font-size: var(--t3);
  max-width: 560px;
}
.legend {
  margin: 8px 0;
  font-size: var(--t2);
}
.key {
  display: inline-block;
  width: 15px;
  height: 15px;
  vertical-align: -2px;
  margin: 0 5px 0 10px;
}
.key.proven {
  background: var(--clear);
  margin-left: 0;
}
.key.needs {
  background: color-mix(in srgb, var(--data) 38%, var(--sheet));
}
.key.thin {
  border: 1.5px dashed var(--ink);
}
.key.unsafe {
  background: var(--stop);
}
.cellsay {
  min-height: 24px;
  margin: 2px 0 6px;
}
.verdicts {
  margin: 0 0 8px;
  padding-left: 20px;
}
.sums {
  font-size: var(--t1);
}
.accept {
  display: flex;
  gap: 14px;
  align-items: center;
  flex-wrap: wrap;
}
@media (max-width: 700px) {
  .bring {
    grid-template-columns: 1fr;
  }
}
</style>
