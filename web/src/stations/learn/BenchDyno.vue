<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, defineAsyncComponent, ref } from 'vue'
import { dynoSummary, usualSweep, type DynoRow, DynoAnswer } from '@vectum/core'
import { api } from '../../api/client.ts'
import QuantityField from '../../quantity/QuantityField.vue'
import BenchPanel from '../../shell/BenchPanel.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import { palettes } from '../../theme.ts'

/** The bench engine on a dynamometer, throttle held: torque and power over speed, and in which rows it knocked. */
const LineChart = defineAsyncComponent(() => import('vue3-apexcharts'))
const builds = useBuild()
const settings = useSettings()
const usual = usualSweep(builds.context!.resolved.redlineRpm)
const fromRpm = ref<number | undefined>(usual.fromRpm)
const toRpm = ref<number | undefined>(usual.toRpm)
const throttlePct = ref<number | undefined>(usual.throttlePct)
const rows = ref<DynoRow[]>([])
const tuneNumber = ref<number | null>(null)
const busy = ref(false)
const problem = ref<string | null>(null)

async function run(): Promise<void> {
  busy.value = true
  problem.value = null
  try {
    const answer = await api(`/builds/${builds.current!.id}/bench/dyno`, DynoAnswer, {
      method: 'POST',
      body: { ...usual, throttlePct: throttlePct.value, fromRpm: fromRpm.value, toRpm: toRpm.value },
    })
    rows.value = answer.rows
    tuneNumber.value = answer.tune.number
  } catch (e) {
    problem.value = (e as Error).message
  } finally {
    busy.value = false
  }
}
const summary = computed(() => dynoSummary(rows.value))
const series = computed(() => [
  { name: 'Torque, Nm', data: rows.value.map((r) => ({ x: Math.round(r.rpm), y: Math.round(r.torqueNm * 10) / 10 })) },
  { name: 'Power, kW', data: rows.value.map((r) => ({ x: Math.round(r.rpm), y: Math.round(r.powerKw * 10) / 10 })) },
])
const TICK_RPM = 500
const axis = computed(() => {
  const speeds = rows.value.map((r) => r.rpm)
  return { low: Math.floor(Math.min(...speeds) / TICK_RPM) * TICK_RPM, high: Math.ceil(Math.max(...speeds) / TICK_RPM) * TICK_RPM }
})
const options = computed(() => {
  const palette = palettes[settings.dark ? 'dark' : 'light']
  return {
    chart: {
      toolbar: { show: false },
      animations: { enabled: false },
      zoom: { enabled: false },
      fontFamily: 'Barlow',
      background: 'transparent',
      foreColor: palette.soft,
    },
    theme: { mode: settings.dark ? 'dark' : 'light' },
    colors: [palette.data, palette.ink],
    stroke: { width: [3, 3], dashArray: [0, 6] },
    xaxis: {
      type: 'numeric',
      title: { text: 'rpm' },
      labels: { style: { colors: palette.soft } },
      min: axis.value.low,
      max: axis.value.high,
      tickAmount: (axis.value.high - axis.value.low) / TICK_RPM,
      decimalsInFloat: 0,
    },
    yaxis: [
      { title: { text: 'Nm' }, min: 0, decimalsInFloat: 0, labels: { style: { colors: [palette.soft] } } },
      { opposite: true, title: { text: 'kW' }, min: 0, decimalsInFloat: 0, labels: { style: { colors: [palette.soft] } } },
    ],
    grid: { borderColor: palette.hair },
    legend: { labels: { colors: palette.ink }, fontSize: '16px' },
    tooltip: { theme: settings.dark ? 'dark' : 'light' },
  }
})
</script>

<template>
  <bench-panel title="Bench: dynamometer" note="the simulated engine on a brake, throttle held">
    <div class="act">
      <quantity-field v-model="fromRpm" label="From" dimension="rpm" />
      <quantity-field v-model="toRpm" label="To" dimension="rpm" />
      <quantity-field v-model="throttlePct" label="Throttle" dimension="percent" />
      <n-button
        dashed
        size="large"
        :loading="busy"
        :disabled="busy || fromRpm === undefined || toRpm === undefined || throttlePct === undefined"
        data-testid="dyno-run"
        @click="run"
        >Sweep</n-button
      >
    </div>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
    <template v-if="summary">
      <p data-testid="dyno-summary">
        Tune {{ tuneNumber }}: <strong class="num">{{ summary.torque.torqueNm.toFixed(0) }} Nm</strong> at
        {{ summary.torque.rpm.toFixed(0) }} rpm, <strong class="num">{{ settings.format(summary.power.powerKw, 'power', 0) }}</strong> at
        {{ summary.power.rpm.toFixed(0) }} rpm<template v-if="summary.leanest"
          >; leanest lambda {{ summary.leanest.lambda!.toFixed(2) }} at {{ summary.leanest.rpm.toFixed(0) }} rpm</template
        >.
        <span v-if="summary.knockedRpm" class="stop"
          >It knocked from {{ summary.knockedRpm[0].toFixed(0) }} to {{ summary.knockedRpm[1].toFixed(0) }} rpm: draw the spark back
          there.</span
        >
        <span v-else>No knock was heard.</span>
      </p>
      <line-chart type="line" height="280" :options="options" :series="series" />
    </template>
  </bench-panel>
</template>

<style scoped>
.act :deep(.field) {
  width: 130px;
}
</style>
