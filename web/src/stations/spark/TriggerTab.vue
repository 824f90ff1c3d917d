<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import {
  checkFact,
  checkReading,
  ignitionUses,
  latest,
  thresholdFor,
  wrongEdgeShiftDeg,
  hasDistributor,
  timingTape,
  CHECK_BAR_MM,
} from '@vectum/core'
import QuantityField from '../../quantity/QuantityField.vue'
import { useBuild } from '../../stores/build.ts'
import DamperTape from './DamperTape.vue'

/** How the unit sees the crank: the way, its angles, and the proofs before any timing. */
const builds = useBuild()
const c = computed(() => builds.context!)
const spark = computed(() => builds.current?.choices.spark ?? {})
const triggers = [
  {
    id: 'speed-signal',
    title: 'Speed signal only',
    text: 'The old advance stays; the unit only counts. Signal from coil negative, or the tach output of a capacitive box.',
  },
  {
    id: 'locked-magnetic',
    title: 'Locked magnetic distributor',
    text: 'Weights and vacuum plate fixed so that nothing moves; the unit times one coil.',
  },
  { id: 'hall', title: 'Hall distributor', text: 'Made for timing control; one coil, clean edge at any speed.' },
  { id: 'crank-cam', title: 'Crank trigger and cam sync', text: 'A coil for each cylinder; the most exact, and the most work.' },
] as const

const set = (path: string) => (value: number | undefined) => builds.change(path, value)
const check = (path: string) => (value: number | undefined) => checkFact(path, value)
const zeroOffset = ref<number | undefined>(0)
const use = computed(() => (c.value.facts.ignition?.kind ? ignitionUses[c.value.facts.ignition.kind] : null))
const useWords = { usable: 'usable', modify: 'with changes', replace: 'replace it' } as const
const noise = ref<number>()
const cranking = ref<number>()
const signal = computed(() => latest(c.value.readings, 'spark.signal'))
const threshold = computed(() => (signal.value ? thresholdFor(signal.value.value.noiseV, signal.value.value.crankingV) : null))
const targetDeg = ref<number | undefined>(8)
const edge = computed(() => (targetDeg.value === undefined ? null : wrongEdgeShiftDeg(targetDeg.value, hasDistributor(c.value))))
const tape = computed(() => {
  const diameter = c.value.resolved.damperDiameterMm
  return diameter === null ? null : timingTape(diameter, -10, Math.max(60, Math.ceil((spark.value.referenceDeg ?? 50) / 10) * 10 + 10))
})
</script>

<template>
  <section class="pad">
    <p v-if="use" class="use">
      The ignition now fitted, as a speed signal: <strong>{{ useWords[use.signal[0]] }}</strong> ({{ use.signal[1] }}); for timing control:
      <strong>{{ useWords[use.control[0]] }}</strong> ({{ use.control[1] }}).
    </p>
    <div class="ways" role="radiogroup" aria-label="How the unit sees the crank">
      <button
        v-for="t in triggers"
        :key="t.id"
        role="radio"
        :aria-checked="spark.trigger === t.id"
        :class="{ on: spark.trigger === t.id }"
        @click="builds.change('choices.spark.trigger', t.id)"
      >
        <strong class="head">{{ t.title }}</strong><span>{{ t.text }}</span>
      </button>
    </div>
    <div class="fields">
      <quantity-field
        label="Reference angle"
        dimension="angle"
        :model-value="spark.referenceDeg"
        :check="check('choices.spark.referenceDeg')"
        why="crank degrees BTDC of the pulse"
        @update:model-value="set('choices.spark.referenceDeg')($event)"
      />
      <quantity-field
        label="Least advance"
        dimension="angle"
        :model-value="spark.minAdvanceDeg"
        :check="check('choices.spark.minAdvanceDeg')"
        why="cranking or idle"
        @update:model-value="set('choices.spark.minAdvanceDeg')($event)"
      />
      <quantity-field
        label="Most advance"
        dimension="angle"
        :model-value="spark.maxAdvanceDeg"
        :check="check('choices.spark.maxAdvanceDeg')"
        why="light cruise"
        @update:model-value="set('choices.spark.maxAdvanceDeg')($event)"
      />
      <quantity-field
        label="Signal delay set"
        dimension="timeUs"
        :model-value="spark.delayUs"
        :check="check('choices.spark.delayUs')"
        why="as in the unit"
        @update:model-value="set('choices.spark.delayUs')($event)"
      />
      <quantity-field
        label="Unit latency"
        dimension="timeUs"
        :model-value="spark.latencyUs"
        :check="check('choices.spark.latencyUs')"
        why="300 µs if not known"
        @update:model-value="set('choices.spark.latencyUs')($event)"
      />
      <div v-if="spark.trigger === 'crank-cam'">
        <span class="label">Cam sync ahead of the pulse</span>
        <div class="pair">
          <button
            v-for="w in [0.5, 1.5]"
            :key="w"
            :class="{ on: spark.camSyncWindows === w }"
            @click="builds.change('choices.spark.camSyncWindows', w)"
          >
            {{ w }} intervals
          </button>
        </div>
      </div>
    </div>
    <h2>Proofs before any timing</h2>
    <div class="proofs">
      <div>
        <p>Piston stop from both directions; true zero is the middle. How far is the mark off?</p>
        <div class="line">
          <quantity-field
            v-model="zeroOffset"
            label="Mark is off by"
            dimension="angle"
            :check="(v) => (Math.abs(v!) > 30 ? 'must be within ±30°' : null)"
          />
          <n-button
            :disabled="zeroOffset === undefined"
            @click="builds.record('spark.zero-mark', { method: 'piston-stop', offsetDeg: zeroOffset }, { instrument: 'piston stop' })"
            >Record zero mark</n-button
          >
        </div>
      </div>
      <div v-if="spark.trigger === 'locked-magnetic'">
        <p>Twist the rotor by hand against its shaft, both ways.</p>
        <div class="line">
          <n-button @click="builds.record('spark.lock-out', { moves: false })">Nothing moves</n-button>
          <n-button @click="builds.record('spark.lock-out', { moves: true })">It moves</n-button>
        </div>
      </div>
    </div>
    <h2>The signal itself</h2>
    <div class="proofs">
      <div>
        <p>Scope at the pick-up: peak of the noise between pulses, peak of the pulse while cranking.</p>
        <div class="line">
          <quantity-field
            v-model="noise"
            label="Noise, peak"
            dimension="voltage"
            input-id="sig-noise"
            :check="(v) => checkReading('spark.signal', 'noiseV', v)"
          />
          <quantity-field
            v-model="cranking"
            label="Cranking, peak"
            dimension="voltage"
            input-id="sig-crank"
            :check="(v) => checkReading('spark.signal', 'crankingV', v)"
          />
          <n-button
            :disabled="noise === undefined || cranking === undefined"
            @click="builds.record('spark.signal', { noiseV: noise, crankingV: cranking }, { instrument: 'scope' })"
            >Record</n-button
          >
        </div>
        <p v-if="threshold" class="say">
          Threshold <strong class="num">{{ threshold.thresholdV.toFixed(2) }} V</strong>, {{ threshold.clear.toFixed(1) }} times clear of
          both.
        </p>
      </div>
      <div>
        <p>If the unit takes the wrong edge of the target, every spark moves by the same amount at any speed.</p>
        <div class="line">
          <quantity-field v-model="targetDeg" label="Target, width on its own shaft" dimension="angle" input-id="edge-width" />
          <p v-if="edge !== null" class="say" data-testid="edge">
            <strong class="num">{{ edge.toFixed(0) }}°</strong> at the crank
          </p>
        </div>
      </div>
    </div>
    <damper-tape v-if="tape" :ticks="tape" :bar-mm="CHECK_BAR_MM" :reference-deg="spark.referenceDeg ?? null" />
    <p v-else class="soft">Enter the damper diameter in Survey for a paper timing tape at true size.</p>
  </section>
</template>

<style scoped>
.pad {
  padding-top: 14px;
}
.ways {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  margin-bottom: 16px;
}
.ways button {
  text-align: left;
  background: var(--sheet);
  border: 1px solid var(--soft);
  color: var(--ink);
  padding: 10px 14px;
  cursor: pointer;
  font: inherit;
  font-size: 15px;
  display: flex;
  flex-direction: column;
  min-height: 80px;
}
.ways strong {
  font-size: 20px;
}
.on {
  background: var(--ink) !important;
  color: var(--onInk) !important;
}
.fields {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 12px 16px;
  margin-bottom: 18px;
}
.label {
  font-size: 15px;
  font-weight: 600;
  display: block;
}
.pair {
  display: flex;
}
.pair button {
  min-height: 44px;
  flex: 1;
  border: 1px solid var(--soft);
  background: var(--sheet);
  color: var(--ink);
  font:
    600 17px 'Barlow Condensed',
    sans-serif;
  cursor: pointer;
}
.proofs {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 20px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
}
h2 {
  margin-top: 16px;
}
.line :deep(.field) {
  width: 150px;
}
.use {
  margin: 0 0 10px;
}
.say {
  margin: 6px 0;
}
.say .num {
  font-size: 24px;
}
@media (max-width: 700px) {
  .fields,
  .ways,
  .proofs {
    grid-template-columns: 1fr !important;
  }
}
</style>
