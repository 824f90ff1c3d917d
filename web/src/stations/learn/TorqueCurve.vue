<script setup lang="ts">
import { computed } from 'vue'
import { heldShares, type Trial } from '@vectum/core'

/** Torque over advance as far as the trial knows it: its holds, the curve with what is not known of it, the map, the least advance, the first knock. */
const props = defineProps<{ trial: Trial; mapDeg: number }>()
const W = 620
const H = 300
const LEFT = 64
const FOOT = 44
const MARGIN_DEG = 5
const span = computed(() => {
  const degs = [
    props.mapDeg,
    ...props.trial.used.map((p) => p.advanceDegBtdc),
    ...(props.trial.nextDeg === null ? [] : [props.trial.nextDeg]),
  ]
  return { low: Math.min(...degs) - MARGIN_DEG, high: Math.max(...degs) + MARGIN_DEG }
})
const x = (deg: number): number => LEFT + ((deg - span.value.low) / (span.value.high - span.value.low)) * (W - LEFT - 16)
/** the curve's own top is 100 %: holds are drawn on its scale */
const drawn = computed(() => {
  const { estimate } = props.trial
  if (!estimate) return null
  const degs = Array.from({ length: 60 }, (_, i) => span.value.low + ((span.value.high - span.value.low) * i) / 59)
  const rows = degs.map((deg) => ({ deg, ...estimate.curve(deg) }))
  const dots = heldShares(props.trial)
  const low = Math.min(0.985, ...dots.map((d) => d.share)) - 0.005
  return { rows, dots, low }
})
const y = (share: number): number => 18 + ((1.008 - share) / (1.008 - (drawn.value?.low ?? 0.9))) * (H - FOOT - 18)
const path = (of: (r: { share: number; sd: number }) => number): string =>
  drawn.value!.rows.map((r, i) => `${i ? 'L' : 'M'}${x(r.deg).toFixed(1)} ${y(of(r)).toFixed(1)}`).join('')
const band = computed(() =>
  drawn.value
    ? `${path((r) => r.share + r.sd)}${drawn.value.rows
        .toReversed()
        .map((r) => `L${x(r.deg).toFixed(1)} ${y(r.share - r.sd).toFixed(1)}`)
        .join('')}Z`
    : '',
)
const ticks = computed(() => {
  const from = Math.ceil(span.value.low / 3) * 3
  return Array.from({ length: Math.floor((span.value.high - from) / 3) + 1 }, (_, i) => from + 3 * i)
})
/** lines of torque, no nearer than they can be read */
const shares = computed(() => {
  const low = drawn.value?.low ?? 1
  const step = [0.01, 0.02, 0.05, 0.1].find((s) => (1 - low) / s <= 6) ?? 0.2
  return Array.from({ length: Math.floor((1 - low) / step) + 1 }, (_, i) => 1 - i * step)
})
</script>

<template>
  <svg class="w-full max-w-720px" :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="`Torque over advance, ${trial.used.length} holds`">
    <clipPath id="torque-field"><rect :x="LEFT" y="4" :width="W - LEFT" :height="H - FOOT - 4" /></clipPath>
    <line v-for="t in ticks" :key="t" :x1="x(t)" :x2="x(t)" :y1="H - FOOT" :y2="H - FOOT + 6" class="stroke-hair" />
    <text v-for="t in ticks" :key="`t${t}`" :x="x(t)" :y="H - FOOT + 24" text-anchor="middle">{{ t }}°</text>
    <template v-if="drawn">
      <g v-for="s in shares" :key="s">
        <line :x1="LEFT" :x2="W" :y1="y(s)" :y2="y(s)" class="stroke-hair" />
        <text :x="LEFT - 8" :y="y(s) + 6" text-anchor="end">{{ Math.round(100 * s) }} %</text>
      </g>
      <g clip-path="url(#torque-field)">
        <path :d="band" class="band fill-wash" />
        <path :d="path((r) => r.share)" class="curve fill-none stroke-data stroke-3" />
      </g>
    </template>
    <g v-if="trial.knockDeg !== null" class="knock">
      <line class="stroke-stop stroke-3" :x1="x(trial.knockDeg)" :x2="x(trial.knockDeg)" y1="4" :y2="H - FOOT" />
      <text class="fill-stop" :x="x(trial.knockDeg) - 6" y="20" text-anchor="end">knock</text>
    </g>
    <g class="map">
      <line class="stroke-soft stroke-2 stroke-dash-[6_5]" :x1="x(mapDeg)" :x2="x(mapDeg)" :y1="H - FOOT - 60" :y2="H - FOOT" />
      <text :x="x(mapDeg) + 6" :y="H - FOOT - 48">map {{ mapDeg.toFixed(0) }}°</text>
    </g>
    <g v-if="trial.resultDeg !== null" class="result">
      <line class="stroke-clear stroke-3" :x1="x(trial.resultDeg)" :x2="x(trial.resultDeg)" y1="4" :y2="H - FOOT" />
      <text class="text-t4 fill-clear" :x="x(trial.resultDeg) + 6" :y="H - FOOT - 14">{{ trial.resultDeg }}°</text>
    </g>
    <g v-if="trial.nextDeg !== null" class="next">
      <line class="stroke-soft stroke-2 stroke-dash-[6_5]" :x1="x(trial.nextDeg)" :x2="x(trial.nextDeg)" y1="26" :y2="H - FOOT" />
      <text class="fill-data" :x="x(trial.nextDeg)" y="20" text-anchor="middle">next {{ trial.nextDeg }}°</text>
    </g>
    <g v-for="(d, k) in drawn?.dots ?? []" :key="`d${k}`" class="hold" :class="{ knocked: d.knock }">
      <circle class="fill-ink" :cx="x(d.advanceDegBtdc)" :cy="y(d.share)" r="7" />
    </g>
  </svg>
</template>

<style scoped>
text {
  font: 600 var(--t2) var(--head);
}
.hold.knocked circle {
  fill: var(--stop);
}
.next line {
  stroke: var(--data);
}
</style>
