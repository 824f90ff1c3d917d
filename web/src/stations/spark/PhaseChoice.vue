<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { burnClearance, phaseSchools, phaseSeenOf } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import StepRecord from './StepRecord.vue'

/** Where rotor and terminal are set in line, by the ways there are, and what a window in an old cap has shown. */
defineProps<{ alignDegBtdc: number; advanceDeg: number; lead: number }>()
const builds = useBuild()
const c = computed(() => builds.context!)
const schools = computed(() => phaseSchools(c.value))
const seen = computed(() => phaseSeenOf(c.value))
const burn = computed(() => burnClearance(c.value))
</script>

<template>
  <div class="below grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-y-3 gap-x-6 mt-4">
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
              <n-button size="small" @click="builds.change('choices.spark.alignDegBtdc', Math.round(s.alignDegBtdc))">Take it</n-button>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="burn" class="soft">
        While a spark of {{ burn.burnMs }} ms burns at {{ burn.rpm.toFixed(0) }} rpm the rotor goes on {{ burn.travelDistDeg.toFixed(1) }}°;
        <span :class="{ stop: burn.clearDistDeg <= 0 }">{{ burn.clearDistDeg.toFixed(1) }}°</span> to the next terminal are left.
      </p>
    </div>
    <div>
      <h2>Seen through a window</h2>
      <p class="soft">An old cap with a window, light on lead {{ lead }}: once at the least, once at the most advance.</p>
      <step-record kind="spark.phase-seen" step="phase-seen" :at="{ commandedDeg: advanceDeg }" />
      <p v-if="seen">
        Seen in line at <strong class="num">{{ seen.alignDegBtdc.toFixed(1) }}°</strong> from {{ seen.readings.length }} reading{{
          seen.readings.length > 1 ? 's' : ''
        }}, set {{ alignDegBtdc }}°.
      </p>
    </div>
  </div>
</template>

<style scoped>
@media (max-width: 800px) {
  .below {
    grid-template-columns: 1fr;
  }
}
</style>
