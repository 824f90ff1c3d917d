<script setup lang="ts">
import { computed } from 'vue'

/** Plate and air over the pedal; the first tenth, where the foot feels a jump, is shaded. */
const props = defineProps<{
  points: readonly { pedal: number; plateDeg: number | null; air: number }[]
  /** where the pedal stands now, share */
  at?: number
  /** beside it another, to be compared */
  other?: readonly { pedal: number; air: number }[]
}>()
const W = 460
const H = 240
const x = (pedal: number): number => 50 + (W - 72) * pedal
const y = (share: number): number => 16 + (H - 46) * (1 - share)
const line = (list: readonly { pedal: number; share: number | null }[]): string =>
  list
    .filter((p): p is { pedal: number; share: number } => p.share !== null)
    .map((p, i) => `${i ? 'L' : 'M'}${x(p.pedal).toFixed(1)} ${y(p.share).toFixed(1)}`)
    .join('')
const air = computed(() => line(props.points.map((p) => ({ pedal: p.pedal, share: p.plateDeg === null ? null : p.air }))))
const plate = computed(() => line(props.points.map((p) => ({ pedal: p.pedal, share: p.plateDeg === null ? null : p.plateDeg / 90 }))))
const beside = computed(() => (props.other ? line(props.other.map((p) => ({ pedal: p.pedal, share: p.air }))) : null))
const ticks = [0, 0.25, 0.5, 0.75, 1]
</script>

<template>
  <svg class="block w-full max-w-560px" :viewBox="`0 0 ${W} ${H}`" role="img" aria-label="Air and plate over the pedal">
    <rect :x="x(0)" :y="y(1)" :width="x(0.1) - x(0)" :height="y(0) - y(1)" class="first fill-wash" />
    <g v-for="t in ticks" :key="t">
      <line :x1="x(0)" :x2="x(1)" :y1="y(t)" :y2="y(t)" class="stroke-hair" />
      <text :x="x(0) - 6" :y="y(t) + 5" text-anchor="end">{{ 100 * t }}</text>
      <text :x="x(t)" :y="H - 8" text-anchor="middle">{{ 100 * t }}</text>
    </g>
    <path v-if="beside" :d="beside" class="beside fill-none stroke-soft stroke-2.5" />
    <path :d="plate" class="plate fill-none stroke-soft stroke-2.5" />
    <path :d="air" class="air fill-none stroke-soft stroke-2.5" />
    <line v-if="at !== undefined" :x1="x(at)" :x2="x(at)" :y1="y(1)" :y2="y(0)" class="now stroke-ink" />
    <text :x="x(1)" :y="y(0) - 36" text-anchor="end" class="fill-data">air, % of full</text>
    <text :x="x(1)" :y="y(0) - 10" text-anchor="end">plate, % of 90°</text>
  </svg>
</template>

<style scoped>
text {
  font: 600 var(--t3) var(--head);
  fill: var(--soft);
}
.air {
  stroke: var(--data);
  stroke-width: 4;
}
.beside {
  stroke: var(--ink);
  stroke-dasharray: 6 5;
}
</style>
