<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, shallowRef } from 'vue'
import { checkScope, delayDeg, patternFor, patternOf, polarityOf, scopeBounds } from '@vectum/core'
import type { ApiError } from '../../api/client.ts'
import OptionRow from '../../quantity/OptionRow.vue'
import QuantityField from '../../quantity/QuantityField.vue'
import { keepFile } from '../../shell/keep-file.ts'
import { useBuild } from '../../stores/build.ts'
import type { Refused, ScopeRecord, ScopeVerdict } from '../../workers/scope-worker.ts'
import ScopeCursors from './ScopeCursors.vue'
import ScopeNumbers from './ScopeNumbers.vue'
import ScopeScreen from './ScopeScreen.vue'
import StepRecord from './StepRecord.vue'
import { useScopeWorker } from './use-scope-worker.ts'

/** The scope: a record from the bench at any speed, or a file from a real one; looked at, measured, judged, put into the record. */
const SAMPLES = 100_000
const builds = useBuild()
const c = computed(() => builds.context!)
const worker = useScopeWorker()
const rpm = ref<number | undefined>(900)
const seconds = ref<number | undefined>(0.5)
const record = shallowRef<ScopeRecord | null>(null)
const verdict = shallowRef<ScopeVerdict | null>(null)
/** the file the record came from; null: the bench's */
const file = shallowRef<File | null>(null)
const problem = ref<string | null>(null)
const busy = ref(false)
const axis = ref<'time' | 'degrees'>('time')
const cursors = ref<[number, number]>([0, 0])
const values = shallowRef<number[][]>([[], []])
const judged = ref<string | null>(null)
const screen = ref<InstanceType<typeof ScopeScreen> | null>(null)
const pattern = computed(() => patternOf(c.value))

const refusedIn = <T>(answer: T | Refused): answer is Refused => typeof answer === 'object' && answer !== null && 'refused' in answer
async function show(work: Promise<ScopeRecord | Refused>): Promise<void> {
  busy.value = true
  problem.value = null
  const answer = await work.catch((e: unknown) => ({ refused: (e as Error).message }))
  busy.value = false
  if (refusedIn(answer)) {
    problem.value = answer.refused
    return
  }
  record.value = answer
  verdict.value = null
  cursors.value = [answer.seconds * 0.4, answer.seconds * 0.6]
  void measure()
  await judge(answer.traces[0].id)
}
function take(): void {
  if (rpm.value === undefined || seconds.value === undefined) return
  const { id, title, facts, choices, readings } = builds.current!
  // a plain copy: what the store watches cannot be handed to a worker
  const build = JSON.parse(JSON.stringify({ id, title, facts, choices, readings, tunes: [], logs: [] }))
  file.value = null
  void show(worker().record(build, { rpm: rpm.value, seconds: seconds.value, samples: SAMPLES }))
}
async function open(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const chosen = input.files?.[0]
  input.value = ''
  if (!chosen) return
  if (chosen.size > 60e6) problem.value = 'The file is over 60 MB; save a shorter stretch.'
  else {
    file.value = chosen
    await show(worker().read(await chosen.text()))
  }
}
async function judge(id: string): Promise<void> {
  judged.value = id
  verdict.value = null
  const wanted = patternFor(c.value, id)
  if (!wanted) return
  const answer = await worker().judge(id, wanted)
  if (refusedIn(answer)) problem.value = answer.refused
  else verdict.value = answer
}
async function measure(): Promise<void> {
  values.value = await Promise.all(cursors.value.map((t) => worker().at(t)))
}
function moved(next: [number, number]): void {
  cursors.value = next
  void measure()
}
const degrees = computed(() =>
  axis.value === 'degrees' && verdict.value?.rpm ? { perS: delayDeg(verdict.value.rpm, 1e6), zeroS: verdict.value.firstS } : null,
)
const marks = computed(() => [
  ...(verdict.value?.missing ?? []).map((timeS) => ({ timeS, kind: 'missing' as const })),
  ...(verdict.value?.extra ?? []).map((timeS) => ({ timeS, kind: 'extra' as const })),
])
const polarity = computed(() => (verdict.value ? polarityOf(c.value, verdict.value) : 'unknown'))
/** The server judges the record again: of the bench at the same setting, of a file its first channel. */
const keeping = ref(false)
const canKeep = computed(() => verdict.value !== null && (file.value === null || judged.value === record.value?.traces[0].id))
async function keep(): Promise<void> {
  keeping.value = true
  problem.value = null
  try {
    if (file.value) {
      const { id } = await keepFile(builds.current!.id, 'scope', file.value)
      builds.ask('spark.scope', { fileId: id })
    } else await builds.readBench('spark.scope', { rpm: rpm.value, seconds: seconds.value, trace: judged.value! })
  } catch (e) {
    problem.value = (e as ApiError).message
  } finally {
    keeping.value = false
  }
}
const kept = computed(() => c.value.readings.filter((r) => r.kind === 'spark.scope').at(-1) ?? null)
</script>

<template>
  <section class="pad">
    <div class="row">
      <quantity-field v-model="rpm" label="Engine speed" dimension="rpm" input-id="scope-rpm" :check="(v) => checkScope('rpm', v)" />
      <quantity-field v-model="seconds" label="Length, s" dimension="number" input-id="scope-s" :check="(v) => checkScope('seconds', v)" />
      <n-button size="large" type="primary" :loading="busy" :disabled="rpm === undefined || seconds === undefined" @click="take"
        >Bench: record</n-button
      >
      <label class="file text-t2 font-600 grid gap-2"
        >Open a file from a scope <input type="file" accept=".csv,.txt,.tsv,text/csv" data-testid="scope-file" @change="open"
      /></label>
    </div>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
    <p v-if="!record" class="soft">
      The bench records {{ SAMPLES.toLocaleString('en') }} samples of crank, cam, coil command, coil current and tachometer signal, from
      {{ scopeBounds.rpm[0] }} to {{ scopeBounds.rpm[1] }} rpm. A file needs a column of time and one of volts. With a capacitive box keep
      the probe off the coil: hundreds of volts.
    </p>
    <template v-else>
      <div class="row tools items-center">
        <option-row
          v-model="axis"
          firm
          label="Axis"
          :options="[
            { value: 'time', label: 'ms' },
            { value: 'degrees', label: '° crank' },
          ]"
        />
        <n-button @click="screen?.zoom(0.5)">Closer</n-button>
        <n-button @click="screen?.zoom(2)">Farther</n-button>
        <n-button @click="screen?.whole()">All of it</n-button>
        <span class="soft"
          >{{ file?.name ?? 'bench' }}, {{ record.samples.toLocaleString('en') }} samples, {{ (record.seconds * 1000).toFixed(0) }} ms</span
        >
        <span v-if="axis === 'degrees' && !degrees" class="warn">degrees need a judged crank signal</span>
      </div>
      <scope-screen
        ref="screen"
        :record="record"
        :columns="(a, b, w) => worker().columns(a, b, w)"
        :degrees="degrees"
        :marks="marks"
        :cursors="cursors"
        @update:cursors="moved"
      />
      <scope-cursors :record="record" :cursors="cursors" :values="values" :rpm="verdict?.rpm ?? null" @moved="moved" />
      <div class="row">
        <option-row
          :model-value="judged ?? undefined"
          firm
          label="Signal judged"
          :options="record.traces.filter((t) => t.unit === 'V' && !/coil|tach/.test(t.id)).map((t) => ({ value: t.id, label: t.id }))"
          @update:model-value="(id) => id && judge(id)"
        />
        <span v-if="!pattern" class="warn">Choose the way at Trigger (and count the wheel) so that its pulses are known.</span>
      </div>
      <div v-if="verdict" class="verdict" aria-live="polite" data-testid="scope-verdict">
        <scope-numbers :verdict="verdict" :polarity="polarity" />
        <n-button v-if="judged !== 'cam'" size="large" type="primary" :loading="keeping" :disabled="!canKeep" @click="keep"
          >Put it into the record</n-button
        >
        <small v-if="!canKeep" class="soft">Of a file its first channel is what goes on record.</small>
        <small v-if="kept" class="soft">last kept {{ kept.takenAt.slice(0, 16).replace('T', ' ') }}, {{ kept.who }}</small>
      </div>
      <h2>Coil current by clamp</h2>
      <step-record kind="spark.coil-current" step="coil-current" />
    </template>
  </section>
</template>

<style scoped>
.row :deep(.field) {
  width: 150px;
}
.verdict {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s3) var(--s6);
  align-items: end;
  border-top: 1px solid var(--ink);
  padding-top: var(--s3);
}
</style>
