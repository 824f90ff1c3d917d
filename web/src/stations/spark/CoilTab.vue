<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { boxOf, coilDrives, controlsTiming, dwellOf, dwellTable, firesCapacitive, neededKv, reachedKv, type CoilDrive } from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { factField as fact, pick, quantity as q } from '../../quantity/field.ts'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'

/** Charging the coil: how long at which voltage, and up to which speed there is time for it. */
const builds = useBuild()
const settings = useSettings()
const c = computed(() => builds.context!)
const now = computed(() => dwellOf(c.value))
const rows = computed(() => (now.value ? dwellTable(now.value.input) : []))
const drives = computed(() => (controlsTiming(c.value) ? coilDrives(c.value) : []))
const chosen = computed<CoilDrive>(() => c.value.spark.coilDrive ?? (firesCapacitive(c.value) ? 'capacitive' : 'built-in'))
const circuits = computed(() => drives.value.find((d) => d.id === chosen.value)?.circuits ?? [])
const need = computed(() => neededKv(c.value))
const box = computed(() =>
  chosen.value === 'capacitive' ? boxOf({ ...c.value, spark: { ...c.value.spark, coilDrive: 'capacitive' } }) : null,
)
const plugFields = [fact('ignition.plugs'), fact('ignition.plugHeat'), fact('ignition.oldPlugs')]
const boxFields = [
  q('choices.spark.box.capacitanceUf', 'number'),
  q('choices.spark.box.chargeV', 'voltage'),
  q('choices.spark.box.secondChargeV', 'voltage', 'if it has one'),
  pick('choices.spark.box.secondBy', [
    ['speed', 'speed'],
    ['wire', 'a wire'],
    ['load', 'load'],
  ]),
  q('choices.spark.box.triggerMs', 'timeMs'),
]
const fields = [
  fact('ignition.coilPrimaryOhm'),
  fact('ignition.coilInductanceMh'),
  q('choices.spark.targetA', 'current', '6.5 A until its sheet says'),
  q('choices.spark.coilLimitA', 'current', 'by its sheet'),
  q('choices.spark.burnMs', 'timeMs', '1.2 ms until said'),
  q('choices.spark.plugGapMm', 'length', '0.8 mm until said', 2),
]
const redline = computed(() => c.value.resolved.redlineRpm)
</script>

<template>
  <section class="pad">
    <div class="fields"><fact-field v-for="f in fields" :key="f.path" :field="f" /></div>
    <p v-if="!now" class="soft">The unit does not charge a coil here; choose a way to time the spark at Trigger.</p>
    <template v-else>
      <h2>Dwell over battery voltage</h2>
      <table>
        <thead>
          <tr>
            <th>Battery</th>
            <th>Dwell</th>
            <th>Fits up to</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.batteryV">
            <td class="num">{{ settings.format(r.batteryV, 'voltage', 0) }}</td>
            <td class="num">{{ r.dwellMs === null ? 'never reached' : settings.format(r.dwellMs, 'timeMs') }}</td>
            <td class="num">{{ r.highestRpm === null ? '–' : settings.format(r.highestRpm, 'rpm') }}</td>
            <td :class="r.highestRpm === null || r.highestRpm < redline ? 'warn' : 'soft'">
              {{
                r.highestRpm === null
                  ? 'a coil of lower resistance'
                  : r.highestRpm < redline
                    ? `short of the ${redline} rpm redline`
                    : 'clear of the redline'
              }}
            </td>
          </tr>
        </tbody>
      </table>
      <p data-testid="duty">
        At {{ now.input.rpm.toFixed(0) }} rpm and {{ now.input.batteryV }} V the coil is charged
        <strong class="num">{{ now.output.dutyPct === null ? 'never enough' : `${now.output.dutyPct.toFixed(0)} %` }}</strong> of the time;
        {{ now.output.availableMs.toFixed(1) }} ms are there for it.
      </p>
      <p class="soft">A volt of the battery stays in the driver.</p>
    </template>
    <template v-if="drives.length">
      <h2>Who drives the coil?</h2>
      <p class="soft">
        A gap of {{ need.gapMm }} mm at {{ need.mapKpa.toFixed(0) }} kPa and {{ need.advanceDeg }}° wants about
        <strong class="num">{{ need.kv.toFixed(0) }} kV</strong>. An estimate: leads, coil and plug are taken for usual ones.
      </p>
      <table class="drives">
        <thead>
          <tr>
            <th></th>
            <th>Energy</th>
            <th>Reaches</th>
            <th>Draws, redline</th>
            <th>Heat</th>
            <th>Interference</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="d in drives" :key="d.id" :class="{ on: d.id === chosen }">
            <td>
              <n-button :type="d.id === chosen ? 'primary' : 'default'" @click="builds.change('choices.spark.coilDrive', d.id)">{{
                d.title
              }}</n-button>
            </td>
            <td class="num">{{ d.energyMj === null ? 'never' : `${d.energyMj.toFixed(0)} mJ` }}</td>
            <td class="num" :class="{ warn: !d.enough }">{{ d.energyMj === null ? '–' : `${reachedKv(d.energyMj).toFixed(0)} kV` }}</td>
            <td class="num">{{ d.supplyA === null ? '–' : `${d.supplyA.toFixed(1)} A` }}</td>
            <td>{{ d.heat }}</td>
            <td>{{ d.interference }}</td>
          </tr>
        </tbody>
      </table>
      <template v-if="box">
        <div class="fields"><fact-field v-for="f in boxFields" :key="f.path" :field="f" /></div>
        <p>
          <strong class="num">{{ box.energyMj.toFixed(0) }} mJ</strong> a spark<template v-if="box.secondEnergyMj !== null"
            >, {{ box.secondEnergyMj.toFixed(0) }} mJ on the second level</template
          >; a trigger of {{ box.triggerMs }} ms, not a dwell.
          <span class="stop">{{ box.chargeV.toFixed(0) }} V on its coil wires: no lead off while it fires.</span>
        </p>
      </template>
      <h2>Plugs</h2>
      <div class="fields"><fact-field v-for="f in plugFields" :key="f.path" :field="f" /></div>
      <h2>Its wires</h2>
      <ul>
        <li v-for="w in circuits" :key="w.from + w.to">
          <strong>{{ w.from }}</strong> to <strong>{{ w.to }}</strong> <span class="soft">{{ w.note }}</span>
        </li>
      </ul>
    </template>
  </section>
</template>

<style scoped>
.drives td {
  padding: var(--s1) var(--s4) var(--s1) 0;
}
</style>
