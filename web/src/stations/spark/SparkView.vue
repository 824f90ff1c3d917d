<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import {
  checkFact,
  coilMap,
  firingAngles,
  hasDistributor,
  phaseOf,
  rotorOffsetDistDeg,
  rotorPhase,
  camSyncPosition,
  sweepOf,
} from '@vectum/core'
import QuantityField from '../../quantity/QuantityField.vue'
import CautionStrip from '../../shell/CautionStrip.vue'
import { useBuild } from '../../stores/build.ts'
import CapDrawing from './CapDrawing.vue'
import CrankDial from './CrankDial.vue'
import TimingLight from './TimingLight.vue'

const builds = useBuild()
const c = computed(() => builds.context!)
const spark = computed(() => builds.current?.choices.spark ?? {})
const facts = computed(() => builds.current?.facts ?? {})
type Tab = 'trigger' | 'phase' | 'light' | 'order'
const tab = ref<Tab>(spark.value.trigger ? 'phase' : 'trigger')
const tabs: { id: Tab; title: string }[] = [
  { id: 'trigger', title: 'Trigger' },
  { id: 'phase', title: 'Phase' },
  { id: 'light', title: 'Timing light' },
  { id: 'order', title: 'Order and coils' },
]
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

const sweep = computed(() => sweepOf(c.value))
const advance = ref(Math.round((sweep.value.minAdvanceDeg + sweep.value.maxAdvanceDeg) / 2))
// while something is dragged it is drawn from here; it is saved when let go
const draftAlign = ref<number | null>(null)
const draftReference = ref<number | null>(null)
const align = computed(() => draftAlign.value ?? spark.value.alignDegBtdc ?? (sweep.value.minAdvanceDeg + sweep.value.maxAdvanceDeg) / 2)
const reference = computed(() => draftReference.value ?? spark.value.referenceDeg ?? null)
function settle(): void {
  if (draftAlign.value !== null) builds.change('choices.spark.alignDegBtdc', draftAlign.value)
  if (draftReference.value !== null) builds.change('choices.spark.referenceDeg', draftReference.value)
  draftAlign.value = draftReference.value = null
}
const distributor = computed(() => hasDistributor(c.value))
const firingOrder = computed(() => facts.value.engine?.firingOrder ?? null)
const phase = computed(() => {
  const saved = phaseOf(c.value)
  return saved ? rotorPhase.run({ ...saved.input, alignDegBtdc: align.value }) : null
})
const offset = computed(() => rotorOffsetDistDeg(advance.value, align.value))
const offsetWords = computed(
  () =>
    `${Math.abs(offset.value).toFixed(1)}° ${offset.value > 0.05 ? 'before' : offset.value < -0.05 ? 'past' : 'under'} terminal ${firingOrder.value?.[0] ?? 1}`,
)
const sync = computed(() =>
  spark.value.trigger === 'crank-cam' && reference.value !== null && spark.value.camSyncWindows && c.value.resolved.cylinders
    ? camSyncPosition.run({ referenceDeg: reference.value, cylinders: c.value.resolved.cylinders, windows: spark.value.camSyncWindows })
    : null,
)
const channels = computed(() => (firingOrder.value ? coilMap(firingOrder.value, spark.value.coilChannels ?? 'by-cylinder') : []))
const angles = computed(() => (firingOrder.value ? firingAngles(firingOrder.value) : []))
const set = (path: string) => (value: number | undefined) => builds.change(path, value)
const check = (path: string) => (value: number | undefined) => checkFact(path, value)
const zeroOffset = ref<number | undefined>(0)
</script>

<template>
  <div v-if="builds.current" class="spark">
    <div class="station-head">
      <h1>Spark</h1>
      <p>When does the pulse come, and which terminal is the rotor under?</p>
    </div>
    <caution-strip station="spark" />
    <div class="tabs" role="tablist">
      <button v-for="t in tabs" :key="t.id" role="tab" :aria-selected="tab === t.id" @click="tab = t.id">{{ t.title }}</button>
    </div>

    <section v-if="tab === 'trigger'" class="pad">
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
    </section>

    <section v-else-if="tab === 'phase'" class="phase">
      <p v-if="!spark.trigger || spark.trigger === 'speed-signal'" class="soft pad">
        The unit does not time the spark here, so there is no pulse to place. Choose another way at Trigger to see the dial.
      </p>
      <template v-else>
        <div class="drawings" :class="{ alone: !distributor }">
          <div>
            <h3>Crank, seen from the front</h3>
            <crank-dial
              v-model:advance-deg="advance"
              :reference-deg="reference"
              :min-advance-deg="sweep.minAdvanceDeg"
              :max-advance-deg="sweep.maxAdvanceDeg"
              :cam-sync-deg="sync?.positionDegBtdc ?? null"
              @update:reference-deg="draftReference = $event"
              @settled="settle"
            />
          </div>
          <div v-if="distributor && firingOrder">
            <h3>Distributor, seen from above</h3>
            <cap-drawing
              :align-deg-btdc="align"
              :firing-order="firingOrder"
              :rotation="facts.ignition?.rotation ?? 'clockwise'"
              :tower-one-deg="spark.towerOne ?? 0"
              :crank-deg-btdc="advance"
              :min-advance-deg="sweep.minAdvanceDeg"
              :max-advance-deg="sweep.maxAdvanceDeg"
              :rotor-radius-mm="c.resolved.rotorRadiusMm"
              :tip-width-mm="c.resolved.rotorTipWidthMm"
              :terminal-width-mm="c.resolved.terminalWidthMm"
              @update:align-deg-btdc="draftAlign = $event"
              @settled="settle"
            />
            <p class="say" aria-live="polite" data-testid="offset">
              at {{ advance }}°: {{ offsetWords }}<br />in line at {{ align }}°, worst overlap {{ phase?.overlapDistDeg.toFixed(1) }}°
            </p>
          </div>
          <div v-else-if="sync" class="side">
            <p class="figure num">{{ sync.positionDegBtdc.toFixed(0) }}°</p>
            <p>
              cam sync pulse, crank degrees before number one’s top centre; {{ sync.marginDeg.toFixed(0) }}° clear of the crank pulses on
              both sides.
            </p>
          </div>
          <div v-else-if="spark.trigger === 'crank-cam'" class="side soft">
            <p>Choose the place of the cam sync pulse at Trigger to see it on the dial.</p>
          </div>
        </div>
        <div class="bar">
          <div class="bar-name">
            <h3>Spark advance</h3>
            <small class="soft">drag, or ← →</small>
          </div>
          <input v-model.number="advance" type="range" min="-10" max="60" step="1" aria-label="Spark advance, degrees before top centre" />
          <output class="num">{{ advance.toFixed(0) }} <small>°BTDC</small></output>
        </div>
      </template>
    </section>

    <section v-else-if="tab === 'light'" class="pad"><timing-light /></section>

    <section v-else class="pad">
      <p v-if="!firingOrder" class="warn">The firing order is not known yet; enter it in Survey.</p>
      <template v-else>
        <div class="pair spaced" role="radiogroup" aria-label="Coil channels are numbered">
          <button
            role="radio"
            :aria-checked="spark.coilChannels !== 'by-firing-order'"
            :class="{ on: spark.coilChannels !== 'by-firing-order' }"
            @click="builds.change('choices.spark.coilChannels', 'by-cylinder')"
          >
            channels follow cylinder number
          </button>
          <button
            role="radio"
            :aria-checked="spark.coilChannels === 'by-firing-order'"
            :class="{ on: spark.coilChannels === 'by-firing-order' }"
            @click="builds.change('choices.spark.coilChannels', 'by-firing-order')"
          >
            channels follow firing order
          </button>
        </div>
        <table class="map">
          <thead>
            <tr>
              <th>{{ distributor ? 'Tower, in rotation' : 'Coil channel' }}</th>
              <th>Cylinder</th>
              <th>Fires after number {{ firingOrder[0] }}</th>
              <th>Paired with</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="(row, i) in distributor
                ? angles.map((a, k) => ({
                    channel: k + 1,
                    cylinder: a.cylinder,
                    partner: channels.find((ch) => ch.cylinder === a.cylinder)?.partner ?? null,
                  }))
                : channels"
              :key="i"
            >
              <td class="num">{{ row.channel }}</td>
              <td class="num">{{ row.cylinder }}</td>
              <td class="num">{{ angles.find((a) => a.cylinder === row.cylinder)?.deg.toFixed(0) }}°</td>
              <td class="num">{{ row.partner ?? '–' }}</td>
            </tr>
          </tbody>
        </table>
      </template>
    </section>
  </div>
</template>

<style scoped>
.spark {
  display: flex;
  flex-direction: column;
  min-height: 100%;
}
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
.spaced {
  max-width: 520px;
  margin-bottom: 14px;
}
.proofs {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 20px;
}
.line {
  display: flex;
  gap: 10px;
  align-items: end;
}
.phase {
  flex: 1;
  display: flex;
  flex-direction: column;
}
.drawings {
  flex: 1;
  display: grid;
  grid-template-columns: 1.1fr 1fr;
  gap: 26px;
  padding: 16px 6px 0;
  align-content: center;
}
.drawings.alone {
  grid-template-columns: 1.25fr 1fr;
}
.drawings h3 {
  margin-bottom: 22px;
}
.say {
  text-align: center;
  color: var(--soft);
  margin: 4px 0 0;
}
.side {
  align-self: center;
}
.figure {
  font-size: 64px;
  margin: 0;
  line-height: 1;
}
.bar {
  display: flex;
  align-items: center;
  gap: 20px;
  border-top: 1px solid var(--hair);
  padding: 10px 0 0;
  margin-top: 12px;
}
.bar input {
  flex: 1;
  accent-color: var(--stop);
  height: 44px;
}
.bar output {
  font-size: 42px;
  min-width: 130px;
  text-align: right;
}
.bar output small {
  font-size: 20px;
}
.bar-name {
  min-width: 120px;
}
.map {
  border-collapse: collapse;
  min-width: 460px;
}
.map th {
  text-align: left;
  font-weight: 400;
  color: var(--soft);
  padding-right: 24px;
}
.map td {
  font-size: 24px;
  border-bottom: 1px solid var(--hair);
  padding: 4px 24px 4px 0;
}
@media (max-width: 700px) {
  .drawings,
  .fields,
  .ways,
  .proofs {
    grid-template-columns: 1fr !important;
  }
}
</style>
