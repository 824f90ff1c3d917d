<script setup lang="ts">
import { computed, ref } from 'vue'
import { idleTargetRpm, type OldCell, oldCurveMap, oldCurveOf, plannedSparkDeg } from '@vectum/core'
import OptionRow from '../../quantity/OptionRow.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'

/** The old distributor as a map over speed and load, beside the planned one: what it gave, what is planned, and how far they lie apart. */
const builds = useBuild()
const settings = useSettings()
const c = computed(() => builds.context!)
const shown = ref<'old' | 'planned' | 'apart'>('apart')
const COLUMNS = 8
const LOADS = [0.3, 0.45, 0.6, 0.75, 0.9, 1]
const rows = computed<OldCell[][]>(() => {
  const curve = oldCurveOf(c.value.facts, c.value.spark.staticDeg)
  if (!curve) return []
  const { resolved: r } = c.value
  const idleRpm = idleTargetRpm(r)
  const step = (r.redlineRpm - idleRpm) / (COLUMNS - 1)
  const axes = {
    rpm: Array.from({ length: COLUMNS }, (_, i) => Math.round((idleRpm + i * step) / 50) * 50),
    mapKpa: LOADS.map((share) => Math.round(share * r.barometerKpa)),
  }
  return oldCurveMap(curve, (rpm, mapKpa) => plannedSparkDeg(r, rpm, mapKpa), axes, {
    idleRpm,
    idleMapKpa: r.idleMapKpa,
    barometerKpa: r.barometerKpa,
  })
})
const value = ({ oldDeg, plannedDeg }: OldCell): string => {
  if (shown.value !== 'apart') return `${(shown.value === 'old' ? oldDeg : plannedDeg).toFixed(0)}°`
  const by = Math.round(plannedDeg - oldDeg)
  return by === 0 ? '0' : `${by > 0 ? '+' : '−'}${Math.abs(by)}°`
}
const FAR_DEG = 4
const kind = ({ oldDeg, plannedDeg }: OldCell): string => {
  const by = Math.round(plannedDeg - oldDeg)
  return shown.value !== 'apart' || Math.abs(by) < FAR_DEG ? '' : by > 0 ? 'earlier' : 'later'
}
</script>

<template>
  <section v-if="rows.length">
    <div class="head-row">
      <h2>As a map</h2>
      <option-row
        v-model="shown"
        firm
        label="What the map shows"
        :options="[
          { value: 'old', label: 'the old one gave' },
          { value: 'planned', label: 'planned' },
          { value: 'apart', label: 'planned less old' },
        ]"
      />
    </div>
    <table class="map" data-testid="old-map">
      <thead>
        <tr>
          <th scope="col">rpm</th>
          <th v-for="cell in rows[0]" :key="cell.rpm" scope="col">{{ cell.rpm }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row[0].mapKpa">
          <th scope="row">{{ settings.format(row[0].mapKpa, 'pressure') }}</th>
          <td v-for="cell in row" :key="cell.rpm" :class="['num', kind(cell)]">{{ value(cell) }}</td>
        </tr>
      </tbody>
    </table>
    <p class="soft">
      Blue: planned {{ FAR_DEG }}° or more earlier; underlined: as much later. The old one is no target: it had no pressure to go by but its
      can’s.
    </p>
  </section>
</template>

<style scoped>
.map td,
.map th {
  text-align: right;
}
.earlier {
  color: var(--data);
}
.later {
  text-decoration: underline;
  color: var(--warn);
}
</style>
