<script setup lang="ts">
import { computed, ref } from 'vue'
import { camSyncPosition, hasDistributor, phaseOf, rotorOffsetDistDeg, rotorPhase, sweepOf } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import CapDrawing from './CapDrawing.vue'
import CrankDial from './CrankDial.vue'

/** The dial: crank and cap seen together, dragged until the rotor stays under its terminal over the swept range. */
const builds = useBuild()
const c = computed(() => builds.context!)
const spark = computed(() => builds.current?.choices.spark ?? {})
const facts = computed(() => builds.current?.facts ?? {})
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
</script>

<template>
  <section class="phase">
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
            cam sync pulse, crank degrees before number one’s top centre; {{ sync.marginDeg.toFixed(0) }}° clear of the crank pulses on both
            sides.
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
</template>

<style scoped>
.pad {
  padding-top: 14px;
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
@media (max-width: 700px) {
  .drawings {
    grid-template-columns: 1fr !important;
  }
}
</style>
