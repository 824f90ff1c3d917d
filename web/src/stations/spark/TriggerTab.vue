<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import {
  CHECK_BAR_MM,
  controlsTiming,
  edgeErrorDeg,
  edgeOf,
  ignitionUses,
  knockFrequenciesKhz,
  latest,
  ownCurveTable,
  reversedAtSpeeds,
  sensorDegToCrank,
  sensorOf,
  thresholdFor,
  timingTape,
  USUAL_TAPE_MM,
  triggerWays,
  wheelReferenceOf,
  type TriggerWay,
} from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { useBuild } from '../../stores/build.ts'
import DamperTape from './DamperTape.vue'
import CurvePoints from './CurvePoints.vue'
import StepRecord from './StepRecord.vue'
import { angleFields, knockField, sensorFields, tapeField, wayFields, wheelFields } from './trigger-fields.ts'

/** How the unit sees the crank: the way, its sensor and angles, and what a wrong edge or polarity would do. */
const builds = useBuild()
const c = computed(() => builds.context!)
const spark = computed(() => builds.current?.choices.spark ?? {})
const ways = Object.entries(triggerWays) as [TriggerWay, (typeof triggerWays)[TriggerWay]][]
const use = computed(() => (c.value.facts.ignition?.kind ? ignitionUses[c.value.facts.ignition.kind] : null))
const useWords = { usable: 'usable', modify: 'with changes', replace: 'replace it' } as const
const timed = computed(() => controlsTiming(c.value))
const sensor = computed(() => sensorOf(c.value))

const fields = computed(() => [...angleFields(c.value), ...wayFields(c.value)])
const sensing = computed(() => sensorFields(c.value))
const wheelR = computed(() => (spark.value.trigger === 'toothed-wheel' ? wheelReferenceOf(spark.value) : null))
const edge = computed(() => {
  const { output, setOn } = spark.value
  if (sensor.value === 'magnetic' || sensor.value === null || !output || !setOn) return null
  const right = edgeOf(output, setOn)
  return { right, wrongDeg: edgeErrorDeg({ ...spark.value, edge: right === 'falling' ? 'rising' : 'falling' }, sensorDegToCrank(c.value))! }
})
const reversed = computed(() => (sensor.value === 'magnetic' && timed.value ? reversedAtSpeeds(c.value) : []))
const signal = computed(() => latest(c.value.readings, 'spark.signal'))
const threshold = computed(() => (signal.value ? thresholdFor(signal.value.value.noiseV, signal.value.value.crankingV) : null))
const bore = computed(() => c.value.facts.engine?.boreMm ?? null)
const tape = computed(() => {
  const diameter = c.value.resolved.damperDiameterMm
  return diameter === null
    ? null
    : timingTape(
        diameter,
        -10,
        Math.max(60, Math.ceil((spark.value.referenceDeg ?? 50) / 10) * 10 + 10),
        spark.value.tapeThicknessMm ?? USUAL_TAPE_MM,
      )
})
</script>

<template>
  <section class="pad">
    <p v-if="use" class="use mx-0 mt-0 mb-3">
      The ignition now fitted, as a speed signal: <strong>{{ useWords[use.signal[0]] }}</strong> ({{ use.signal[1] }}); for timing control:
      <strong>{{ useWords[use.control[0]] }}</strong> ({{ use.control[1] }}).
    </p>
    <div class="ways grid grid-cols-[repeat(3,minmax(0,1fr))] gap-2 mb-4" role="radiogroup" aria-label="How the unit sees the crank">
      <button
        v-for="[id, t] in ways"
        :key="id"
        role="radio"
        :aria-checked="spark.trigger === id"
        :class="{ on: spark.trigger === id }"
        @click="builds.change('choices.spark.trigger', id)"
      >
        <strong class="head text-t3">{{ t.title }}</strong><span>{{ t.text }}</span>
      </button>
    </div>
    <template v-if="spark.trigger">
      <div class="fields">
        <fact-field v-for="f in fields" :key="f.path" :field="f" />
      </div>
      <template v-if="spark.trigger === 'toothed-wheel'">
        <h2>The wheel, counted</h2>
        <div class="fields"><fact-field v-for="f in wheelFields" :key="f.path" :field="f" /></div>
        <p v-if="wheelR !== null" class="say" data-testid="wheel-reference">
          Reference by the count: <strong class="num">{{ wheelR.toFixed(1) }}°</strong> BTDC.
          <n-button
            v-if="spark.referenceDeg === undefined || Math.abs(spark.referenceDeg - wheelR) > 0.05"
            @click="builds.change('choices.spark.referenceDeg', Math.round(wheelR * 10) / 10)"
            >Set it in the unit</n-button
          >
        </p>
      </template>
      <curve-points v-if="spark.trigger === 'own-curve'" :rows="ownCurveTable(c)" />
      <template v-if="sensing.length">
        <h2>The sensor and its edge</h2>
        <div class="fields"><fact-field v-for="f in sensing" :key="f.path" :field="f" /></div>
        <p v-if="edge" class="say" data-testid="edge">
          The moment is the <strong>{{ edge.right }}</strong> edge; with the other every spark comes
          <strong class="num">{{ Math.abs(edge.wrongDeg).toFixed(0) }}°</strong> {{ edge.wrongDeg > 0 ? 'late' : 'early' }} at the crank, at
          any speed.
        </p>
        <p v-else-if="sensor !== 'magnetic'" class="soft">Say output and setting to see which edge marks the moment.</p>
        <p v-if="reversed.length" class="say">
          Wires changed over, the spark would come late by
          <template v-for="(s, i) in reversed" :key="s.rpm"
            >{{ i ? ', ' : '' }}<strong class="num">{{ s.lateDeg === null ? 'none' : `${s.lateDeg.toFixed(1)}°` }}</strong> at
            {{ s.rpm }} rpm</template
          >.
        </p>
        <h2>The signal itself</h2>
        <p class="soft">Scope at the pick-up: peak of the noise between pulses, peak of the pulse while cranking.</p>
        <step-record kind="spark.signal" step="signal" />
        <p v-if="threshold" class="say">
          Threshold <strong class="num">{{ threshold.thresholdV.toFixed(2) }} V</strong>, {{ threshold.clear.toFixed(1) }} times clear of
          both.
        </p>
      </template>
      <template v-if="timed">
        <h2>Knock sensor, where fitted</h2>
        <div class="fields"><fact-field :field="knockField" /></div>
        <p v-if="bore !== null" class="soft">
          On this bore it listens at
          <strong class="num"
            >{{
              knockFrequenciesKhz(bore)
                .map((k) => k.toFixed(1))
                .join(', ')
            }}
            kHz</strong
          >.
        </p>
      </template>
      <damper-tape
        v-if="tape"
        :ticks="tape"
        :bar-mm="CHECK_BAR_MM"
        :reference-deg="spark.referenceDeg ?? null"
        :anticlockwise="c.facts.engine?.rotation === 'anticlockwise'"
      />
      <div v-if="tape" class="fields"><fact-field :field="tapeField" /></div>
      <p v-else class="soft">Enter the damper diameter in Survey for a paper timing tape at true size.</p>
    </template>
  </section>
</template>

<style scoped>
.ways button {
  text-align: left;
  background: var(--sheet);
  border: 1px solid var(--soft);
  color: var(--ink);
  padding: var(--s2) var(--s3);
  cursor: pointer;
  font: inherit;
  font-size: var(--t2);
  line-height: 1.3;
  display: flex;
  flex-direction: column;
  min-height: 80px;
}
.on {
  background: var(--ink) !important;
  color: var(--onInk) !important;
}
.say {
  margin: var(--s2) 0;
}
.say .num {
  font-size: var(--t4);
}
@media (max-width: 800px) {
  .ways {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
