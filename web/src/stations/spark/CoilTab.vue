<script setup lang="ts">
import { computed } from 'vue'
import { dwellOf, dwellTable, knockFrequenciesKhz } from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { quantity as q } from '../../quantity/field.ts'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'

/** Charging the coil: how long at which voltage, and up to which speed there is time for it. */
const builds = useBuild()
const settings = useSettings()
const c = computed(() => builds.context!)
const now = computed(() => dwellOf(c.value))
const rows = computed(() => (now.value ? dwellTable(now.value.input) : []))
const bore = computed(() => c.value.facts.engine?.boreMm ?? null)
const fields = [
  q('facts.ignition.coilPrimaryOhm', 'Coil primary', 'resistance', 'with leads and ballast'),
  q('facts.ignition.coilInductanceMh', 'Coil inductance', 'inductance'),
  q('choices.spark.targetA', 'Current wanted', 'current', '6.5 A until its sheet says'),
  q('choices.spark.burnMs', 'Spark lasts', 'timeMs', '1.2 ms until said'),
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
      <p class="soft">
        A volt of the battery stays in the driver. A capacitive box charges itself: its dwell is only the width of a trigger.
      </p>
    </template>
    <p v-if="bore !== null" class="soft">
      A knock sensor on this bore listens at
      <strong class="num"
        >{{
          knockFrequenciesKhz(bore)
            .map((k) => k.toFixed(1))
            .join(', ')
        }}
        kHz</strong
      >.
    </p>
  </section>
</template>

<style scoped>
.pad {
  padding-top: 14px;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(168px, 1fr));
  gap: 12px 16px;
  margin-bottom: 14px;
}
table {
  border-collapse: collapse;
}
th {
  text-align: left;
  color: var(--soft);
  font-weight: 500;
  padding-right: 28px;
}
td {
  border-bottom: 1px solid var(--hair);
  padding: 6px 28px 6px 0;
}
td.num {
  font-size: 24px;
}
</style>
