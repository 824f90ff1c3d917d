<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import {
  gainByUsePct,
  idleTargetRpm,
  LOSS_PER_DEG2,
  oldAdvanceDeg,
  oldCurveOf,
  plannedSparkDeg,
  readingsOf,
  timingPayoff,
  useShares,
  USUAL_STATIC_DEG,
  guardDeg,
} from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { factField as fact, quantity as q } from '../../quantity/field.ts'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import OldMap from './OldMap.vue'

/** The old advance as a curve beside the planned one, with what the light read before it went, and what timing control might pay. */
const builds = useBuild()
const settings = useSettings()
const c = computed(() => builds.context!)
const curve = computed(() => oldCurveOf(c.value.facts, c.value.spark.staticDeg))
const r = computed(() => c.value.resolved)
const idleRpm = computed(() => idleTargetRpm(r.value))
const planned = (rpm: number, mapKpa: number) => plannedSparkDeg(r.value, rpm, mapKpa)
const lossPerDeg2 = computed(() => c.value.spark.lossPerDeg2 ?? LOSS_PER_DEG2)
const regions = computed(() =>
  curve.value
    ? timingPayoff(
        curve.value,
        planned,
        {
          redlineRpm: r.value.redlineRpm,
          idleRpm: idleRpm.value,
          idleMapKpa: r.value.idleMapKpa,
          barometerKpa: r.value.barometerKpa,
        },
        lossPerDeg2.value,
        (rpm, mapKpa) => guardDeg(r.value, rpm, mapKpa, r.value.barometerKpa),
      )
    : [],
)
const shares = computed(() => useShares(c.value.facts.place?.use))
const light = computed(() => readingsOf(c.value.readings, 'survey.old-timing').map((x) => x.value))
const W = 620
const H = 260
const x = computed(() => scaleLinear([0, r.value.redlineRpm], [44, W - 12]))
const y = scaleLinear([0, 55], [H - 30, 10])
const path = (of: (rpm: number) => number) =>
  Array.from({ length: 50 }, (_, i) => 500 + ((r.value.redlineRpm - 500) * i) / 49)
    .map((rpm, i) => `${i ? 'L' : 'M'}${x.value(rpm).toFixed(1)} ${y(of(rpm)).toFixed(1)}`)
    .join('')
const lines = computed(() =>
  curve.value
    ? [
        {
          id: 'old-full',
          label: 'old, full load',
          d: path((rpm) => oldAdvanceDeg(curve.value!, rpm, r.value.barometerKpa, r.value.barometerKpa)),
          cls: 'old',
        },
        {
          id: 'old-part',
          label: 'old, half load',
          d: path((rpm) => oldAdvanceDeg(curve.value!, rpm, r.value.barometerKpa / 2, r.value.barometerKpa)),
          cls: 'old part',
        },
        { id: 'new-full', label: 'planned, full load', d: path((rpm) => planned(rpm, r.value.barometerKpa)), cls: 'new' },
        { id: 'new-part', label: 'planned, half load', d: path((rpm) => planned(rpm, r.value.barometerKpa / 2)), cls: 'new part' },
      ]
    : [],
)
const fields = [
  q('choices.spark.staticDeg', 'angle', `${USUAL_STATIC_DEG}° until read with a light`),
  q('choices.spark.lossPerDeg2', 'number', '2.5 per ten thousand until known', 6),
  fact('ignition.curveShaft'),
  fact('ignition.mechanicalAdvanceDeg'),
  fact('ignition.mechanicalStartRpm'),
  fact('ignition.mechanicalFullRpm'),
  fact('ignition.vacuumAdvanceDeg'),
  fact('ignition.vacuumFullKpa'),
  fact('ignition.vacuumSource'),
]
</script>

<template>
  <section class="pad">
    <div class="fields"><fact-field v-for="f in fields" :key="f.path" :field="f" /></div>
    <p v-if="!curve" class="soft">
      Enter the weights of the old distributor to see its curve beside the planned one, in degrees and speeds of the crank or of the
      distributor, as they were read.
    </p>
    <template v-else>
      <svg class="w-full max-h-300px" :viewBox="`0 0 ${W} ${H}`" role="img" aria-label="Advance over engine speed, old and planned">
        <g v-for="t in y.ticks(5)" :key="`y${t}`">
          <path :d="`M44 ${y(t)}H${W - 12}`" class="gridline" />
          <text x="38" :y="y(t) + 5" text-anchor="end">{{ t }}°</text>
        </g>
        <text v-for="t in x.ticks(6)" :key="`x${t}`" :x="x(t)" :y="H - 10" text-anchor="middle">{{ t }}</text>
        <path v-for="l in lines" :key="l.id" :d="l.d" :class="l.cls" class="line fill-none stroke-2.5" />
        <circle
          v-for="(p, i) in light"
          :key="i"
          class="fill-sheet stroke-ink stroke-2"
          :cx="x(p.rpm)"
          :cy="y(p.observedDeg)"
          r="5"
          :class="{ can: p.vacuumCan }"
        />
      </svg>
      <p class="soft">
        Grey: the old distributor, dashed at half load. Blue: the planned map. Rings: the light before it went, filled with the can on.
      </p>
      <old-map />
      <h2>What timing control might pay</h2>
      <table>
        <thead>
          <tr>
            <th>Where</th>
            <th>Old</th>
            <th>Planned</th>
            <th>Torque</th>
            <th>Time spent there</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in regions" :key="p.id">
            <td>{{ p.label }} <small class="soft">{{ settings.format(p.rpm, 'rpm') }}, {{ p.mapKpa.toFixed(0) }} kPa</small></td>
            <td class="num">{{ p.oldDeg.toFixed(0) }}°</td>
            <td class="num">{{ p.plannedDeg.toFixed(0) }}°</td>
            <td class="num">
              {{ p.gainPct < 0.05 ? '±0' : `+${p.gainPct.toFixed(1)}` }} %<small v-if="p.heldBack" class="soft"> held back for knock</small>
            </td>
            <td class="soft">{{ (100 * shares[p.id]).toFixed(0) }} %</td>
          </tr>
        </tbody>
      </table>
      <p>Over all of it, by use: <strong class="num">+{{ gainByUsePct(regions, shares).toFixed(1) }} %</strong> torque.</p>
      <p class="soft">
        An estimate: the planned map is taken for the best timing, which only a dyno knows, and torque falls with the square of the degrees
        from it ({{ (lossPerDeg2 * 1e4).toFixed(1) }} per ten thousand for each).
      </p>
    </template>
  </section>
</template>

<style scoped>
.gridline {
  stroke: var(--hair);
}
.old {
  stroke: var(--soft);
}
.new {
  stroke: var(--data);
}
.part {
  stroke-dasharray: 7 5;
}
.can {
  fill: var(--ink);
}
</style>
