<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, defineAsyncComponent } from 'vue'
import {
  currentLight,
  currentLightReadings,
  currentTiming,
  delayDeg,
  fixActions,
  readingsOf,
  entryWords,
  unproved,
  zeroMark,
  type TimingFix,
} from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import EntryStanding from '../../kit/EntryStanding.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import { palettes } from '../../theme.ts'

/** Readings from a timing light, the line through them, and what to change. */
const LineChart = defineAsyncComponent(() => import('vue3-apexcharts'))
const builds = useBuild()
const settings = useSettings()
const spark = computed(() => builds.current?.choices.spark ?? {})
const all = computed(() => (builds.context ? readingsOf(builds.context.readings, 'spark.timing-light') : []))
const now = computed(() => (builds.context ? currentLight(builds.context) : []))
const verdict = computed(() => (builds.context ? currentTiming(builds.context) : null))
const leftOut = computed(() => new Set((verdict.value?.leftOut ?? []).map((l) => now.value[l.place]?.id)))
const missing = computed(() => (builds.context ? unproved(builds.context) : []))
const correction = computed(() => (builds.context ? (zeroMark(builds.context)?.correctionDeg ?? 0) : 0))
const fits = computed(() => (builds.context ? readingsOf(builds.context.readings, 'spark.fit') : []))
const verbs: Record<TimingFix['id'], string> = {
  'change-reference': 'Set it in the unit',
  'turn-distributor': 'I turned it',
  'move-sensor': 'I moved it',
  'change-delay': 'Set the delay in the unit',
}
/** with a reference to change the delay goes along; alone it is a fix of its own */
const offered = computed(() => {
  const fixes = verdict.value?.fixes ?? []
  return fixes.length === 1 ? fixes : fixes.filter((f) => f.id !== 'change-delay')
})
const delayFix = computed(() =>
  (verdict.value?.fixes ?? []).find((f) => f.id === 'change-delay' && offered.value.length > 0 && !offered.value.includes(f)),
)
function apply(id: TimingFix['id']): void {
  if (!verdict.value || !builds.context) return
  const { changes, readings } = fixActions(builds.context, verdict.value, id)
  builds.ask('spark.fit', { entryIds: now.value.map((r) => r.id) })
  for (const { kind, value } of readings) builds.record(kind, value)
  for (const { path, value } of changes) builds.change(path, value)
}
const benchRpm = computed(() => verdict.value?.nextRpm ?? 900)
/** as the last reading had it: a fit is of readings at one commanded value, or at many */
const HELD_DEG = 15
const commanded = computed(() => all.value.at(-1)?.value.commandedDeg ?? HELD_DEG)
const takeOnBench = (): void => void builds.readBench('spark.timing-light', { rpm: benchRpm.value, commandedDeg: commanded.value })

const points = computed(() =>
  (builds.context ? currentLightReadings(builds.context) : []).map((r) => [r.rpm, Math.round(r.observedDeg * 100) / 100]),
)
/** the axis in whole steps around the readings, rpm */
const TICK_RPM = 500
const axis = computed(() => {
  const speeds = points.value.map((p) => p[0])
  const min = Math.floor(Math.min(...speeds) / TICK_RPM) * TICK_RPM
  const max = Math.floor(Math.max(...speeds) / TICK_RPM + 1) * TICK_RPM
  return { min, max, tickAmount: (max - min) / TICK_RPM }
})
const fitLine = computed(() => {
  const v = verdict.value
  if (!v || v.mistake) return []
  return [axis.value.min, axis.value.max].map((x) => [
    Math.round(x),
    Math.round((v.referenceErrorDeg - delayDeg(x, v.delayErrorUs ?? 0)) * 100) / 100,
  ])
})
const options = computed(() => {
  const p = settings.dark ? palettes.dark : palettes.light
  return {
    chart: { toolbar: { show: false }, animations: { enabled: false }, fontFamily: 'Barlow', background: 'transparent', foreColor: p.soft },
    theme: { mode: settings.dark ? ('dark' as const) : ('light' as const) },
    colors: [p.stop, p.ink],
    stroke: { width: [0, 2], curve: 'straight' as const },
    markers: { size: [7, 0], strokeWidth: 0 },
    legend: { show: false },
    grid: { borderColor: p.hair },
    xaxis: { type: 'numeric' as const, title: { text: 'rpm' }, ...axis.value, labels: { formatter: (v: string) => Number(v).toFixed(0) } },
    yaxis: {
      title: { text: 'error of the timing, °' },
      decimalsInFloat: 1,
      labels: { formatter: (v: number) => (Math.round(v * 10) / 10 || 0).toFixed(1) },
      forceNiceScale: true,
    },
    tooltip: { enabled: false },
  }
})
const series = computed(() => [
  { name: 'readings', type: 'scatter', data: points.value },
  { name: 'fit', type: 'line', data: fitLine.value },
])
</script>

<template>
  <div>
    <p v-if="spark.referenceDeg === undefined" class="warn">
      Choose the reference angle at Trigger first; every reading is kept with the setting it was taken under.
    </p>
    <div class="act">
      <entry-form
        kind="spark.timing-light"
        :given="{ referenceDeg: spark.referenceDeg, delayUs: spark.delayUs ?? 0 }"
        :start="{ commandedDeg: commanded }"
        :without="['referenceDeg', 'delayUs']"
        :disabled="spark.referenceDeg === undefined"
      />
      <n-button dashed data-testid="bench-light" :disabled="spark.referenceDeg === undefined" @click="takeOnBench"
        >Bench: light at {{ benchRpm }} rpm</n-button
      >
    </div>
    <p v-if="missing.length" class="proofs" data-testid="unproved">
      <strong>Not proved yet: {{ missing.map((p) => p.title.toLowerCase()).join(', ') }}.</strong> Each can look like a timing error, so no
      fix is offered before. Prove them at Steps.
    </p>
    <p v-if="correction !== 0" class="soft">Every reading is corrected by the stored {{ correction.toFixed(1) }}° of the zero mark.</p>
    <div class="grid grid-cols-[minmax(0,1fr)_minmax(0,1.1fr)] gap-4">
      <div>
        <table class="readings">
          <thead>
            <tr>
              <th>rpm</th>
              <th>commanded</th>
              <th>seen</th>
              <th>who, when</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in now" :key="r.id">
              <td class="num text-t3">{{ r.value.rpm }}</td>
              <td class="num text-t3">{{ r.value.commandedDeg }}°</td>
              <td class="num text-t3">
                <component :is="leftOut.has(r.id) ? 's' : 'span'">{{ r.value.observedDeg }}°</component>
              </td>
              <td class="soft">
                {{ r.who }}, {{ r.takenAt.slice(5, 10) }}
                <template v-if="leftOut.has(r.id)"> left out <entry-standing :reading-id="r.id" /></template>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="!now.length" class="soft">
          No readings with this setting yet. Fix the advance at one value, read at idle and near 3,000 rpm; mind the fan and your sleeves.
        </p>
        <p v-if="all.length > now.length" class="soft">
          {{ all.length - now.length }} earlier readings belong to other settings; the logbook has them.
        </p>
      </div>
      <line-chart v-if="points.length" type="line" height="230" :options="options" :series="series" />
    </div>
    <section v-if="verdict" class="verdict line-t-ink mt-3 pt-3" aria-live="polite">
      <p v-if="verdict.mistake" class="stop">{{ verdict.mistake.message }}</p>
      <template v-else>
        <div class="figures flex gap-6">
          <div>
            <span class="num text-t5 block leading-none">{{ (Math.round(verdict.referenceErrorDeg * 10) / 10 || 0).toFixed(1) }}°</span
            ><small>reference error ± {{ verdict.referenceErrorSeDeg.toFixed(1) }}°</small>
          </div>
          <div>
            <span class="num text-t5 block leading-none">{{
              verdict.delayErrorUs === null ? '–' : `${verdict.delayErrorUs.toFixed(0)} µs`
            }}</span
            ><small>{{
              verdict.delayErrorSeUs === null ? 'delay needs a second speed' : `delay error ± ${verdict.delayErrorSeUs.toFixed(0)} µs`
            }}</small>
          </div>
        </div>
        <p v-for="s in verdict.suspects" :key="s" class="warn">{{ s }}</p>
        <template v-if="!missing.length">
          <div v-for="(fix, i) in offered" :key="fix.id" class="fix">
            <p class="m-0">
              <strong class="text-t3">{{ fix.title }}</strong> <span class="soft">{{ fix.detail }}</span>
              <span v-if="delayFix" class="soft"> {{ delayFix.title }} with it.</span>
            </p>
            <n-button :type="i ? 'default' : 'primary'" size="large" @click="apply(fix.id)">{{ verbs[fix.id] }}</n-button>
          </div>
          <p v-if="!offered.length">Nothing to change: what is left is under what a light can show.</p>
        </template>
        <p v-if="!verdict.enough" class="soft">
          Not sure enough yet: one more reading near <strong>{{ verdict.nextRpm }} rpm</strong> tightens it most.
        </p>
      </template>
    </section>
    <details v-if="fits.length" class="fits mt-3">
      <summary>{{ fits.length }} fit{{ fits.length > 1 ? 's' : '' }} before this one</summary>
      <p v-for="f in fits" :key="f.id" class="my-2px mx-0">
        <span class="soft">{{ f.takenAt.slice(0, 16).replace('T', ' ') }}, {{ f.who }}:</span> {{ entryWords('spark.fit', f.value) }}
      </p>
    </details>
  </div>
</template>

<style scoped>
.fix {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: var(--s4);
  align-items: center;
  border-bottom: 1px dotted var(--hair);
  padding: var(--s2) 0;
}
.proofs {
  border-left: 5px solid var(--warn);
  padding: var(--s1) 0 var(--s1) var(--s3);
  margin: 0 0 var(--s3);
}
</style>
