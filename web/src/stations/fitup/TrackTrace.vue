<script setup lang="ts">
import { computed } from 'vue'
import type { TrackSweep } from '@vectum/core'

/** Both tracks over time, each as it was recorded, V. */
const props = defineProps<{ sweep: TrackSweep }>()
const W = 560
const H = 190
const COLUMNS = 480
const end = computed(() => props.sweep.timeS.at(-1) ?? 1)
const x = (t: number): number => 34 + ((W - 44) * (t - props.sweep.timeS[0])) / (end.value - props.sweep.timeS[0] || 1)
const y = (v: number): number => 8 + (H - 30) * (1 - v / 5)
/** lowest and highest of each column, so that a spike is never lost in drawing */
function line(v: readonly number[]): string {
  const per = Math.max(1, Math.ceil(v.length / COLUMNS))
  let d = ''
  for (let i = 0; i < v.length; i += per) {
    const part = v.slice(i, i + per)
    for (const value of [Math.min(...part), Math.max(...part)])
      d += `${d ? 'L' : 'M'}${x(props.sweep.timeS[i]).toFixed(1)} ${y(value).toFixed(1)}`
  }
  return d
}
const one = computed(() => line(props.sweep.oneV))
const two = computed(() => line(props.sweep.twoV))
</script>

<template>
  <svg class="block w-full max-w-680px" :viewBox="`0 0 ${W} ${H}`" role="img" aria-label="Both tracks over time">
    <g v-for="v in [0, 1, 2, 3, 4, 5]" :key="v">
      <line x1="34" :x2="W - 10" :y1="y(v)" :y2="y(v)" class="stroke-hair" />
      <text class="head-t2 fill-soft" x="28" :y="y(v) + 5" text-anchor="end">{{ v }}</text>
    </g>
    <path :d="one" class="one fill-none stroke-2 stroke-ink" />
    <path :d="two" class="two fill-none stroke-2 stroke-data stroke-dash-[6_3]" />
    <text class="head-t2 fill-soft" :x="W - 10" :y="H - 4" text-anchor="end">V, over {{ end.toFixed(0) }} s; track two dashed</text>
  </svg>
</template>
