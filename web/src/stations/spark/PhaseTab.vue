<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import {
  camSyncPosition,
  controlsTiming,
  dwellDeg,
  firingIntervalDeg,
  hasCamSignal,
  hasDistributor,
  idleTargetRpm,
  latest,
  phaseOf,
  rotorPhase,
  sweepOf,
} from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import CapDrawing from './CapDrawing.vue'
import FactField from '../../quantity/FactField.vue'
import { factField as fieldOf } from '../../quantity/field.ts'
import CrankDial from './CrankDial.vue'
import PhaseChoice from './PhaseChoice.vue'
import { dialStory, phaseMargins, underTerminal } from './phase-margins.ts'
import { SLOWED, usePhasePlay } from './use-phase-play.ts'

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
const offsetWords = computed(() => underTerminal(advance.value, align.value, one.value))
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

const rpm = ref(idleTargetRpm(c.value.resolved))
const topRpm = computed(() => c.value.resolved.redlineRpm)
const charge = computed(() => dwellDeg(c.value, rpm.value))
const margins = computed(() =>
  phaseMargins(c.value, {
    phase: phase.value,
    referenceDeg: reference.value,
    advanceDeg: advance.value,
    rpm: rpm.value,
    chargeDeg: charge.value,
    syncMarginDeg: sync.value?.marginDeg ?? null,
    slackDeg: slack.value,
  }),
)
const story = computed(() => dialStory(distributor.value, advance.value, align.value, one.value))

const { playing, play, back } = usePhasePlay(crank, advance, rpm)
</script>

<template>
  <section class="phase flex-1 flex flex-col">
    <p v-if="!spark.trigger || spark.trigger === 'speed-signal'" class="soft pad">
      The unit does not time the spark here, so there is no pulse to place. Choose another way at Trigger to see the dial.
    </p>
    <template v-else>
      <p class="story mx-0 mt-2 mb-0 text-t3 leading-[1.3] min-h-47px" aria-live="polite">{{ story }}</p>
      <div class="drawings" :class="{ alone: !distributor }">
        <div>
          <h3 class="mb-4">Crank, seen from the front</h3>
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
            :anticlockwise="facts.engine?.rotation === 'anticlockwise'"
            @update:crank-deg="crank = $event"
            @update:reference-deg="draftReference = $event"
            @settled="settle"
          />
        </div>
        <div v-if="distributor && !facts.ignition?.rotation" class="self-center" data-testid="ask-rotation">
          <h3 class="mb-4">Distributor, seen from above</h3>
          <p>Which way the rotor turns is not known, and nothing of the cap can be drawn without it. Cap off, starter touched, look.</p>
          <fact-field :field="fieldOf('ignition.rotation')" />
        </div>
        <div v-else-if="distributor && firingOrder">
          <h3 class="mb-4">Distributor, seen from above</h3>
          <cap-drawing
            :align-deg-btdc="align"
            :firing-order="firingOrder"
            :rotation="facts.ignition!.rotation!"
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
          <p class="say text-center text-soft mx-0 mt-1 mb-0" data-testid="offset">
            at {{ advance }}°: {{ offsetWords }}, in line at {{ align }}°
          </p>
        </div>
        <div v-else-if="sync" class="self-center">
          <p class="num text-t6 m-0 leading-none">{{ sync.positionDegBtdc.toFixed(0) }}°</p>
          <p>
            cam sync pulse, crank degrees before number one’s top centre; {{ sync.marginDeg.toFixed(0) }}° clear of the crank pulses on both
            sides.
          </p>
        </div>
        <div v-else-if="spark.trigger === 'crank-cam'" class="soft self-center">
          <p>Choose the place of the cam sync pulse at Trigger to see it on the dial.</p>
        </div>
      </div>
      <div class="bars grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-y-0 gap-x-5 line-t-hair mt-2">
        <div class="bar">
          <h3 id="advance-name">Spark advance</h3>
          <output class="num text-t5 ml-auto">{{ advance.toFixed(0) }} <small class="text-t2">°BTDC</small></output>
          <input v-model.number="advance" type="range" min="-10" max="60" step="1" aria-label="Spark advance, degrees before top centre" />
        </div>
        <div class="bar play">
          <n-button :type="playing ? 'primary' : 'default'" @click="play">{{ playing ? 'Hold' : 'Turn the engine' }}</n-button>
          <n-button v-if="crank !== null" @click="back">Back</n-button>
          <output class="num text-t5 ml-auto">{{ rpm }} <small class="text-t2">rpm, {{ SLOWED }} × slower</small></output>
          <input v-model.number="rpm" type="range" min="200" :max="topRpm" step="50" aria-label="Engine speed, rpm" />
        </div>
      </div>
      <dl class="margins">
        <div v-for="m in margins" :key="m.label" :class="{ stop: m.bad }">
          <dt>{{ m.label }}</dt>
          <dd class="num">{{ m.text }}</dd>
        </div>
      </dl>
      <phase-choice v-if="distributor" :align-deg-btdc="align" :advance-deg="advance" :lead="one" />
    </template>
  </section>
</template>

<style scoped>
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
.drawings svg {
  max-height: min(272px, 38vh);
}
.margins {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s1) var(--s5);
  margin: var(--s2) 0 0;
}
.bar input {
  flex: 1 0 100%;
  accent-color: var(--stop);
  height: 32px;
}
.play input {
  accent-color: var(--ink);
}
@media (max-width: 800px) {
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
