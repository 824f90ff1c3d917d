<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, onBeforeUnmount, ref } from 'vue'
import {
  burnClearance,
  camSyncPosition,
  controlsTiming,
  degreesToUs,
  delayDeg,
  dwellDeg,
  firingIntervalDeg,
  hasCamSignal,
  hasDistributor,
  idleTargetRpm,
  latest,
  phaseOf,
  phaseSchools,
  phaseSeenOf,
  rotorOffsetDistDeg,
  rotorPhase,
  sweepOf,
  withinCycle,
} from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import CapDrawing from './CapDrawing.vue'
import CrankDial from './CrankDial.vue'
import StepRecord from './StepRecord.vue'

/** The dial: crank and cap seen together, dragged or played until the rotor stays under its terminal over the swept range. */
const builds = useBuild()
const c = computed(() => builds.context!)
const spark = computed(() => builds.current?.choices.spark ?? {})
const facts = computed(() => builds.current?.facts ?? {})
const sweep = computed(() => sweepOf(c.value))
const advance = ref(Math.round((sweep.value.minAdvanceDeg + sweep.value.maxAdvanceDeg) / 2))
/** while the crank is neither dragged nor played it stands where the spark comes */
const crank = ref<number | null>(null)
const crankNow = computed(() => crank.value ?? advance.value)
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
const cylinders = computed(() => c.value.resolved.cylinders)
const phase = computed(() => {
  const saved = phaseOf(c.value)
  return saved ? rotorPhase.run({ ...saved.input, alignDegBtdc: align.value }) : null
})
const one = computed(() => firingOrder.value?.[0] ?? 1)
const offset = computed(() => rotorOffsetDistDeg(advance.value, align.value))
const offsetWords = computed(
  () =>
    `${Math.abs(offset.value).toFixed(1)}° ${offset.value > 0.05 ? 'before' : offset.value < -0.05 ? 'past' : 'under'} terminal ${one.value}`,
)
const sync = computed(() =>
  spark.value.trigger !== 'toothed-wheel' &&
  hasCamSignal(c.value) &&
  reference.value !== null &&
  spark.value.camSyncWindows &&
  cylinders.value
    ? camSyncPosition.run({ referenceDeg: reference.value, cylinders: cylinders.value, windows: spark.value.camSyncWindows })
    : null,
)
const slack = computed(() => latest(c.value.readings, 'spark.slack')?.value.crankDeg ?? 0)
const schools = computed(() => phaseSchools(c.value))
const seen = computed(() => phaseSeenOf(c.value))
const burn = computed(() => burnClearance(c.value))

const rpm = ref(idleTargetRpm(c.value.resolved))
const topRpm = computed(() => c.value.resolved.redlineRpm)
const charge = computed(() => dwellDeg(c.value, rpm.value))
const margins = computed(() =>
  [
    phase.value && { label: 'Overlap, worst end', text: `${phase.value.overlapDistDeg.toFixed(1)}°`, bad: phase.value.overlapDistDeg <= 0 },
    phase.value && {
      label: 'Clear of next tower',
      text: `${phase.value.crossFireMarginDistDeg.toFixed(1)}°`,
      bad: phase.value.crossFireMarginDistDeg <= 0,
    },
    controlsTiming(c.value) &&
      reference.value !== null && {
        label: 'Pulse to spark',
        text: `${(reference.value - advance.value).toFixed(0)}°, ${degreesToUs(reference.value - advance.value, rpm.value).toFixed(0)} µs`,
        bad: reference.value <= advance.value,
      },
    charge.value !== null && { label: 'Coil charges over', text: `${charge.value.toFixed(0)}°`, bad: false },
    sync.value && { label: 'Cam pulse clear by', text: `${sync.value.marginDeg.toFixed(0)}°`, bad: false },
    slack.value > 0 && { label: 'Slack', text: `${slack.value.toFixed(0)}°`, bad: false },
  ].filter((m) => !!m),
)
/** What is seen, in a sentence that changes with what is dragged. */
const story = computed(() => {
  if (!distributor.value)
    return `A spark at ${advance.value}° is ${advance.value < 0 ? 'after' : 'before'} top centre by that much; no rotor has to be anywhere.`
  const early = advance.value - align.value
  return early === 0
    ? `In line at ${align.value}°, spark at ${advance.value}°: the rotor is exactly under terminal ${one.value} as it fires.`
    : `In line at ${align.value}°. The spark at ${advance.value}° comes ${Math.abs(early).toFixed(0)} crank degrees ${early > 0 ? 'sooner' : 'later'}; the rotor turns half as fast, so it stands ${offsetWords.value}.`
})

const SLOWED = 60
const playing = ref(false)
let frame = 0
let last = 0
function step(now: number): void {
  const from = crank.value ?? advance.value
  const passedUs = last ? ((now - last) * 1000) / SLOWED : 0
  crank.value = withinCycle(from - delayDeg(rpm.value, passedUs))
  last = now
  frame = requestAnimationFrame(step)
}
function play(): void {
  playing.value = !playing.value
  cancelAnimationFrame(frame)
  last = 0
  if (playing.value) frame = requestAnimationFrame(step)
}
function back(): void {
  if (playing.value) play()
  crank.value = null
}
onBeforeUnmount(() => cancelAnimationFrame(frame))
</script>

<template>
  <section class="phase">
    <p v-if="!spark.trigger || spark.trigger === 'speed-signal'" class="soft pad">
      The unit does not time the spark here, so there is no pulse to place. Choose another way at Trigger to see the dial.
    </p>
    <template v-else>
      <p class="story" aria-live="polite">{{ story }}</p>
      <div class="drawings" :class="{ alone: !distributor }">
        <div>
          <h3>Crank, seen from the front</h3>
          <crank-dial
            v-model:advance-deg="advance"
            :reference-deg="controlsTiming(c) ? reference : null"
            :min-advance-deg="sweep.minAdvanceDeg"
            :max-advance-deg="sweep.maxAdvanceDeg"
            :cam-sync-deg="sync?.positionDegBtdc ?? null"
            :crank-deg="crankNow"
            :interval-deg="cylinders === null || spark.trigger === 'toothed-wheel' ? null : firingIntervalDeg(cylinders)"
            :dwell-deg="charge"
            :slack-deg="slack"
            @update:crank-deg="crank = $event"
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
            :crank-deg-btdc="crankNow"
            :min-advance-deg="sweep.minAdvanceDeg"
            :max-advance-deg="sweep.maxAdvanceDeg"
            :rotor-radius-mm="c.resolved.rotorRadiusMm"
            :tip-width-mm="c.resolved.rotorTipWidthMm"
            :terminal-width-mm="c.resolved.terminalWidthMm"
            @update:align-deg-btdc="draftAlign = $event"
            @settled="settle"
          />
          <p class="say" data-testid="offset">at {{ advance }}°: {{ offsetWords }}, in line at {{ align }}°</p>
        </div>
        <div v-else-if="sync" class="side">
          <p class="figure num">{{ sync.positionDegBtdc.toFixed(0) }}°</p>
          <p>
            cam sync pulse, crank degrees before number one’s top centre; {{ sync.marginDeg.toFixed(0) }}° clear of the crank pulses on both
            sides.
          </p>
        </div>
        <div v-else-if="spark.trigger === 'crank-cam'" class="side soft">
          <p>Choose the place of the cam sync pulse at Trigger to see it on the dial.</p>
        </div>
      </div>
      <div class="bars">
        <div class="bar">
          <h3 id="advance-name">Spark advance</h3>
          <output class="num">{{ advance.toFixed(0) }} <small>°BTDC</small></output>
          <input v-model.number="advance" type="range" min="-10" max="60" step="1" aria-label="Spark advance, degrees before top centre" />
        </div>
        <div class="bar play">
          <n-button :type="playing ? 'primary' : 'default'" @click="play">{{ playing ? 'Hold' : 'Turn the engine' }}</n-button>
          <n-button v-if="crank !== null" @click="back">Back</n-button>
          <output class="num"
            >{{ rpm }} <small>rpm, {{ SLOWED }} × slower</small></output
          >
          <input v-model.number="rpm" type="range" min="200" :max="topRpm" step="50" aria-label="Engine speed, rpm" />
        </div>
      </div>
      <dl class="margins">
        <div v-for="m in margins" :key="m.label" :class="{ stop: m.bad }">
          <dt>{{ m.label }}</dt>
          <dd class="num">{{ m.text }}</dd>
        </div>
      </dl>
      <template v-if="distributor">
        <div class="below">
          <div>
            <h2>In line where?</h2>
            <table>
              <thead>
                <tr>
                  <th>School</th>
                  <th>In line at</th>
                  <th>Worst overlap</th>
                  <th>Clear</th>
                  <th></th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="s in schools" :key="s.label">
                  <td>{{ s.label }}</td>
                  <td class="num">{{ s.alignDegBtdc.toFixed(0) }}°</td>
                  <td class="num" :class="{ stop: s.overlapDistDeg <= 0 }">{{ s.overlapDistDeg.toFixed(1) }}°</td>
                  <td class="num" :class="{ stop: s.clearDistDeg <= 0 }">{{ s.clearDistDeg.toFixed(1) }}°</td>
                  <td>
                    <n-button size="small" @click="builds.change('choices.spark.alignDegBtdc', Math.round(s.alignDegBtdc))"
                      >Take it</n-button
                    >
                  </td>
                </tr>
              </tbody>
            </table>
            <p v-if="burn" class="soft">
              While a spark of {{ burn.burnMs }} ms burns at {{ burn.rpm.toFixed(0) }} rpm the rotor goes on
              {{ burn.travelDistDeg.toFixed(1) }}°;
              <span :class="{ stop: burn.clearDistDeg <= 0 }">{{ burn.clearDistDeg.toFixed(1) }}°</span> to the next terminal are left.
            </p>
          </div>
          <div>
            <h2>Seen through a window</h2>
            <p class="soft">An old cap with a window, light on lead {{ one }}: once at the least, once at the most advance.</p>
            <step-record kind="spark.phase-seen" step="phase-seen" :at="{ commandedDeg: advance }" />
            <p v-if="seen">
              Seen in line at <strong class="num">{{ seen.alignDegBtdc.toFixed(1) }}°</strong> from {{ seen.readings.length }} reading{{
                seen.readings.length > 1 ? 's' : ''
              }}, set {{ align }}°.
            </p>
          </div>
        </div>
      </template>
    </template>
  </section>
</template>

<style scoped>
.phase {
  flex: 1;
  display: flex;
  flex-direction: column;
}
.story {
  margin: var(--s2) 0 0;
  font-size: var(--t3);
  line-height: 1.3;
  min-height: 47px;
}
.drawings {
  display: grid;
  grid-template-columns: 1.1fr 1fr;
  gap: var(--s5);
  padding: var(--s2) var(--s2) 0;
  align-content: center;
}
.drawings.alone {
  grid-template-columns: 1.25fr 1fr;
}
.drawings h3 {
  margin-bottom: var(--s4);
}
.drawings svg {
  max-height: min(272px, 38vh);
}
.say {
  text-align: center;
  color: var(--soft);
  margin: var(--s1) 0 0;
}
.side {
  align-self: center;
}
.figure {
  font-size: var(--t6);
  margin: 0;
  line-height: 1;
}
.margins {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s1) var(--s5);
  margin: var(--s2) 0 0;
}
.bars {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 0 var(--s5);
  border-top: 1px solid var(--hair);
  margin-top: var(--s2);
}
.bar input {
  flex: 1 0 100%;
  accent-color: var(--stop);
  height: 32px;
}
.play input {
  accent-color: var(--ink);
}
.bar output {
  font-size: var(--t5);
  margin-left: auto;
}
.bar output small {
  font-size: var(--t2);
}
.below {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: var(--s3) var(--s6);
  margin-top: var(--s4);
}
@media (max-width: 800px) {
  .below,
  .bars {
    grid-template-columns: 1fr;
  }
}
@media (max-width: 700px) {
  .drawings {
    grid-template-columns: 1fr !important;
  }
}
</style>
