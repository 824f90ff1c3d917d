<script setup lang="ts">
import type { IdleVerdict } from '@vectum/core'
import { useSettings } from '../../stores/settings.ts'

/** Every idle of a log, one by one, to be compared. */
defineProps<{ idles: IdleVerdict['idles'] }>()
const settings = useSettings()
const or = (value: number | null, decimals: number, unit: string): string => (value === null ? '' : `${value.toFixed(decimals)}${unit}`)
</script>

<template>
  <table v-if="idles.length" class="plain">
    <thead>
      <tr>
        <th>From</th>
        <th>For</th>
        <th>Coolant</th>
        <th>Speed</th>
        <th>Rough</th>
        <th>Valve</th>
        <th>Pressure</th>
        <th>Lambda</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="i in idles" :key="i.fromS" :class="{ soft: !i.warm }">
        <td>{{ (i.fromS / 60).toFixed(1) }} min</td>
        <td>{{ (i.toS - i.fromS).toFixed(0) }} s</td>
        <td>{{ settings.format(i.coolantMeanC ?? undefined, 'temperature') }}{{ i.warm ? '' : ', cold' }}</td>
        <td>{{ i.meanRpm.toFixed(0) }} rpm</td>
        <td>{{ i.rpmStdDev.toFixed(0) }} rpm</td>
        <td>{{ or(i.valveMeanPct, 0, ' %') }}</td>
        <td>{{ settings.format(i.mapMeanKpa ?? undefined, 'pressure') }}</td>
        <td>{{ or(i.lambdaMean, 2, '') }}</td>
      </tr>
    </tbody>
  </table>
</template>
