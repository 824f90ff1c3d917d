<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, onBeforeUnmount, reactive, ref } from 'vue'
import {
  adapterOf,
  checkReading,
  fitTach,
  needleOf,
  needleStep,
  selfTestRpm,
  speedoPulsesPerKm,
  sourcePulsesPerRev,
  tachFrequency,
  tachRatio,
  tachReadings,
} from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import FactField from '../../quantity/FactField.vue'
import { pick, quantity as q } from '../../quantity/field.ts'
import QuantityField from '../../quantity/QuantityField.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import TachDriven from './TachDriven.vue'

/** The tachometer: what pulses it gets, what must stand between, and whether it reads true. */
const builds = useBuild()
const settings = useSettings()
const c = computed(() => builds.context!)
const tach = computed(() => c.value.tach)
const ppr = computed(() => (c.value.resolved.cylinders === null ? null : sourcePulsesPerRev(tach.value, c.value.resolved.cylinders)))
const ratio = computed(() => (ppr.value !== null && tach.value.setCylinders ? tachRatio(ppr.value, tach.value.setCylinders) : null))
const adapter = computed(() => adapterOf(c.value))
const fit = computed(() => fitTach(tachReadings(c.value), c.value.resolved.cylinders))
const fields = [
  pick('choices.tach.source', [
    ['single-coil', 'the one coil'],
    ['paired-coil', 'a paired coil'],
    ['coil-per-cylinder', 'one of the coils'],
    ['unit-output', 'the unit'],
  ]),
  q('choices.tach.unitPulsesPerRev', 'number'),
  pick('choices.tach.level', [
    ['coil-spike', 'coil spikes'],
    ['square-12v', '12 V square'],
    ['square-5v', '5 V square'],
    ['coil-current', 'current of the coil’s feed'],
  ]),
  pick('choices.tach.wants', [
    ['coil-spike', 'coil spikes'],
    ['square-12v', '12 V square'],
    ['square-5v', '5 V square'],
    ['current-loop', 'a current loop'],
  ]),
  q('choices.tach.setCylinders', 'count'),
  q('choices.tach.redlineRpm', 'rpm'),
  q('choices.tach.shiftRpm', 'rpm'),
  q('choices.tach.selfTestRpm', 'rpm', 'at power-up'),
  q('choices.tach.selfTestS', 'number'),
]
const speedoFields = [
  q('choices.tach.speedo.pulsesPerKm', 'count', 'before the change'),
  q('choices.tach.speedo.oldAxle', 'number', undefined, 3),
  q('choices.tach.speedo.newAxle', 'number', undefined, 3),
  q('choices.tach.speedo.oldTyreMm', 'length'),
  q('choices.tach.speedo.newTyreMm', 'length'),
]
const speedo = computed(() => (tach.value.speedo ? speedoPulsesPerKm(tach.value.speedo) : null))
const lag = computed(() => needleOf(c.value))
// a step is watched on a phone's film: what it showed at a few times
const stepFrom = ref<number | undefined>(900)
const stepTo = ref<number | undefined>(2800)
const stepPoints = reactive<{ timeS: number; shownRpm: number | undefined }[]>(
  [0.1, 0.2, 0.4, 0.8].map((timeS) => ({ timeS, shownRpm: undefined })),
)
const stepReady = computed(
  () => stepFrom.value !== undefined && stepTo.value !== undefined && stepPoints.filter((p) => p.shownRpm !== undefined).length >= 2,
)
function recordStep(): void {
  const points = stepPoints.filter((p) => p.shownRpm !== undefined)
  builds.record('tach.step', { fromRpm: stepFrom.value, toRpm: stepTo.value, points: points.map((p) => ({ ...p })) })
  for (const p of stepPoints) p.shownRpm = undefined
}
function benchStep(): void {
  const at = { fromRpm: stepFrom.value ?? 900, toRpm: stepTo.value ?? 2800 }
  void builds.readBench('tach.step', at)
}
const benchTach = (): void => void builds.readBench('tach.reading', { rpm: speed.value })
// needle test at power-up: up its span and back
const testing = ref(false)
let testedMs = 0
function selfTest(): void {
  testedMs = 0
  testing.value = true
}
// a strip rather than a dial: the speed, and the needle that follows it
const speed = ref(1500)
const needle = ref(0)
const full = computed(() => Math.ceil((c.value.resolved.redlineRpm * 1.25) / 1000) * 1000)
let frame = 0
let last = 0
const tick = (now: number): void => {
  const seconds = tach.value.selfTestS ?? 2
  if (testing.value) testedMs += last ? now - last : 0
  if (testedMs / 1000 >= seconds + 1) testing.value = false
  const shown = testing.value
    ? selfTestRpm(testedMs / 1000, tach.value.selfTestRpm ?? full.value, seconds)
    : speed.value * (ratio.value ?? 1)
  needle.value = needleStep(needle.value, Math.min(shown, full.value), last ? (now - last) / 1000 : 0, lag.value.rise, lag.value.fall)
  last = now
  frame = requestAnimationFrame(tick)
}
frame = requestAnimationFrame(tick)
onBeforeUnmount(() => cancelAnimationFrame(frame))
const at = (rpm: number) => (100 * Math.min(rpm, full.value)) / full.value
</script>

<template>
  <section class="pad">
    <div class="fields"><fact-field v-for="f in fields" :key="f.path" :field="f" /></div>
    <p v-if="ppr !== null">
      <strong class="num text-t5">{{ ppr }}</strong> pulses a turn,
      {{ tachFrequency.run({ rpm: speed, pulsesPerRev: ppr }).frequencyHz.toFixed(1) }} Hz at {{ speed }} rpm<template v-if="ratio !== null"
        >; it shows <strong class="num text-t5" :class="{ warn: Math.abs(ratio - 1) > 0.001 }">{{ (100 * ratio).toFixed(0) }} %</strong> of
        the speed</template
      >.
    </p>
    <p v-if="adapter" :class="adapter.stop ? 'stop' : adapter.needed ? 'warn' : 'clear'">
      {{ adapter.needed ? `Between them: ${adapter.needed}.` : 'Source and tachometer go together as they are.' }}
    </p>
    <div class="strip mx-0 mt-3 mb-4">
      <svg
        class="w-full h-54px bg-paper line-a-hair"
        viewBox="0 0 100 16"
        preserveAspectRatio="none"
        role="img"
        :aria-label="`The needle shows ${needle.toFixed(0)} rpm`"
      >
        <path v-for="k in full / 1000 + 1" :key="k" :d="`M${at((k - 1) * 1000)} 16v-6`" class="tick" />
        <path v-if="tach.redlineRpm" :d="`M${at(tach.redlineRpm)} 4H100`" class="red" />
        <path v-if="tach.shiftRpm" :d="`M${at(tach.shiftRpm)} 8v8`" class="red" />
        <path :d="`M${at(needle)} 0v16`" class="needle" />
      </svg>
      <div class="num flex justify-between text-t3">
        <span v-for="k in full / 1000 + 1" :key="k">{{ k - 1 }}</span>
      </div>
      <label
        >True speed <input v-model.number="speed" type="range" min="0" :max="full" step="50" aria-label="True speed" />
        <strong class="num">{{ speed }} rpm</strong></label
      >
      <div class="row">
        <n-button :disabled="testing" @click="selfTest">Needle test</n-button>
        <span class="soft" data-testid="lag"
          >The needle rises with {{ lag.rise.toFixed(2) }} s{{ lag.measured.rise ? '' : ' (usual)' }} and falls with
          {{ lag.fall.toFixed(2) }} s{{ lag.measured.fall ? '' : ' (usual)' }}.</span
        >
      </div>
    </div>
    <h2>Readings</h2>
    <div class="row">
      <entry-form kind="tach.reading" />
      <n-button dashed :disabled="speed < 100" @click="benchTach">Bench: read at {{ speed }} rpm</n-button>
    </div>
    <p v-if="fit" data-testid="tach-fit">
      Shows <strong class="num">{{ fit.gain.toFixed(3) }}</strong> times the speed{{
        Math.abs(fit.offsetRpm) >= 20 ? `, ${fit.offsetRpm > 0 ? '+' : ''}${fit.offsetRpm.toFixed(0)} rpm` : ''
      }}, {{ settings.format(fit.worstRpm, 'rpm') }} off at worst{{
        fit.setting ? `: as one set to ${fit.setting.set} cylinders on an engine of ${fit.setting.true}` : ''
      }}.
    </p>
    <tach-driven />
    <h2>How it follows a step</h2>
    <p class="soft">Film the needle while the speed jumps; read it at a few times after. Do it up and down: some fall more slowly.</p>
    <div class="row">
      <quantity-field
        v-model="stepFrom"
        label="From"
        dimension="rpm"
        input-id="step-from"
        :check="(v) => checkReading('tach.step', 'fromRpm', v)"
      />
      <quantity-field
        v-model="stepTo"
        label="To"
        dimension="rpm"
        input-id="step-to"
        :check="(v) => checkReading('tach.step', 'toRpm', v)"
      />
      <quantity-field
        v-for="(p, i) in stepPoints"
        :key="i"
        v-model="p.shownRpm"
        :label="`After ${p.timeS} s`"
        dimension="rpm"
        :input-id="`step-${i}`"
        :check="(v) => (v! < 0 || v! > 20000 ? 'must be 0 to 20000 rpm' : null)"
      />
      <n-button type="primary" :disabled="!stepReady" @click="recordStep">Record step</n-button>
      <n-button dashed @click="benchStep">Bench: film it</n-button>
    </div>
    <h2>Speedometer, after another axle or tyre</h2>
    <div class="fields"><fact-field v-for="f in speedoFields" :key="f.path" :field="f" /></div>
    <p v-if="speedo !== null" data-testid="speedo">
      The display is now to be told <strong class="num">{{ speedo.toFixed(0) }}</strong> pulses a kilometre.
    </p>
  </section>
</template>

<style scoped>
.tick,
.needle,
.red {
  stroke: var(--ink);
  vector-effect: non-scaling-stroke;
}
.needle {
  stroke: var(--data);
  stroke-width: 4;
}
.red {
  stroke: var(--stop);
  stroke-width: 3;
}
.strip label {
  display: flex;
  gap: var(--s3);
  align-items: center;
  min-height: 44px;
}
.strip input {
  flex: 1;
}
.row :deep(.field) {
  width: 130px;
}
</style>
