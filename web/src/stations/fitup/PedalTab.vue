<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, shallowRef } from 'vue'
import {
  benchSweep,
  CoreError,
  judgeTracks,
  motorAir,
  type BuildData,
  softStart,
  sweepFromCsv,
  tracksEntry,
  tracksSay,
  type TrackSweep,
} from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { quantity } from '../../quantity/field.ts'
import OptionRow from '../../quantity/OptionRow.vue'
import CurveEditor from './CurveEditor.vue'
import PedalAir from './PedalAir.vue'
import TrackTrace from './TrackTrace.vue'
import { useFitup } from './use-fitup.ts'

/** Electronic throttle: key and brake first, then the tracks of pedal and plate from a sweep, then how the plate follows the pedal. */
const { builds, c, fitup, held, change, onBench, record, said } = useFitup()
const which = ref<'pedal' | 'plate'>('pedal')
const options = [
  { value: 'pedal' as const, label: 'pedal' },
  { value: 'plate' as const, label: 'plate' },
]
const safe = computed(() => builds.met('fitup', 'throttle-1'))
const sweep = shallowRef<TrackSweep | null>(null)
const verdict = computed(() => (sweep.value ? judgeTracks(sweep.value) : null))
const problem = ref<string | null>(null)
function look(next: () => TrackSweep): void {
  try {
    const one = next()
    judgeTracks(one)
    sweep.value = one
    problem.value = null
  } catch (e) {
    if (!(e instanceof CoreError)) throw e
    problem.value = e.message
  }
}
const onTheBench = (): void => look(() => benchSweep(JSON.parse(JSON.stringify(builds.current!)) as BuildData, which.value))
async function read(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  const text = await file.text()
  look(() => sweepFromCsv(text))
}
function keep(): void {
  if (onBench.value) return void builds.readBench('fitup.tracks', { tracks: which.value })
  builds.record('fitup.tracks', tracksEntry(which.value, verdict.value!))
}
const STRAIGHT = softStart(0)
const points = computed(() => fitup.value.pedal?.curve ?? STRAIGHT)
const air = computed(() => motorAir(c.value, points.value))
const straightAir = computed(() => motorAir(c.value, STRAIGHT))
const move = (i: number, platePct: number): void =>
  void (held.value = { pedal: { curve: points.value.map((p, k) => (k === i ? { ...p, platePct } : p)) } })
function kept(): void {
  change('pedal.curve', points.value)
  held.value = null
}
const fields = [quantity('choices.fitup.pedal.defaultPct', 'percent', 'springs hold it there; a small opening')]
</script>

<template>
  <section class="pad">
    <p v-if="!safe" class="alarm quiet" role="status">
      A throttle that runs away can kill. Key and brake come first: with the pedal down, key off must shut the plate, and so must the brake.
      Record that card before anything else here.
    </p>
    <h2>Two tracks, one sweep</h2>
    <p class="measure">Slowly from end to end and back in ten seconds or so, both signals recorded: time, track one, track two.</p>
    <div class="row">
      <option-row v-model="which" :options="options" firm label="Of" />
      <n-button v-if="onBench" size="large" dashed data-testid="bench-sweep" @click="onTheBench">Bench: sweep it</n-button>
      <label class="file">A recording, CSV <input type="file" accept=".csv,text/csv" data-testid="sweep-file" @change="read" /></label>
    </div>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
    <template v-if="sweep && verdict">
      <track-trace :sweep="sweep" />
      <p class="head-t4" :class="verdict.wrong.length ? 'stop' : 'clear'" data-testid="tracks-verdict">
        {{ verdict.wrong.length ? verdict.wrong.join('; ') : 'Sound' }}
      </p>
      <p>{{ tracksSay(verdict) }}</p>
      <n-button size="large" type="primary" data-testid="tracks-record" @click="keep">Record it</n-button>
    </template>
    <ul v-if="record('fitup.tracks').length" class="entries">
      <li v-for="r in record('fitup.tracks')" :key="r.id">{{ said('fitup.tracks', r.value) }}</li>
    </ul>
    <h2>How the plate follows the pedal</h2>
    <div class="two grid grid-cols-[1fr_1fr] gap-5">
      <div>
        <curve-editor :points="points" @move="move" @done="kept" />
        <div class="act">
          <n-button size="large" data-testid="softer" @click="change('pedal.curve', softStart(0.5))">Softer start</n-button>
          <n-button size="large" @click="change('pedal.curve', undefined)">Straight</n-button>
        </div>
      </div>
      <div>
        <pedal-air :points="air.points" :other="straightAir.points" />
        <p data-testid="motor-tip">
          First tenth of the pedal: {{ (100 * air.tipInAir).toFixed(0) }} % of the air; straight,
          {{ (100 * straightAir.tipInAir).toFixed(0) }} %.
        </p>
      </div>
    </div>
    <div class="fields"><fact-field v-for="f in fields" :key="f.path" :field="f" /></div>
  </section>
</template>

<style scoped>
@media (max-width: 900px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
