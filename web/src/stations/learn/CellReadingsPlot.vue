<script setup lang="ts">
import { computed, shallowRef, watch } from 'vue'
import type { CellReadings } from '@vectum/core'

/** The readings that one cell was solved from: what each still wanted, in the order of time, with their mean lambda and how far they scatter. */
const props = defineProps<{
  at: { i: number; j: number; by: 'pressure' | 'throttle' }
  readings: (at: { i: number; j: number; by: 'pressure' | 'throttle' }) => Promise<CellReadings | null>
}>()
const read = shallowRef<CellReadings | null>(null)
watch(
  () => [props.at.i, props.at.j, props.at.by],
  async () => {
    const asked = { ...props.at }
    const answer = await props.readings(asked)
    // another cell may have been tapped meanwhile
    if (asked.i === props.at.i && asked.j === props.at.j && asked.by === props.at.by) read.value = answer
  },
  { immediate: true },
)
const W = 720
const H = 96
const LEFT = 60
const most = computed(() => Math.max(5, ...(read.value?.points ?? []).map((p) => Math.abs(p.errorPct))))
const y = (pct: number): number => H / 2 - (pct / most.value) * (H / 2 - 12)
const dots = computed(() => {
  const points = read.value?.points ?? []
  return points.map((p, k) => ({ x: LEFT + (points.length < 2 ? 0.5 : k / (points.length - 1)) * (W - LEFT - 10), y: y(p.errorPct) }))
})
</script>

<template>
  <figure v-if="read" class="mx-0 mt-0 mb-2" data-testid="cell-readings">
    <figcaption>
      {{ read.seconds.toFixed(1) }} s in this log: lambda {{ read.lambda.toFixed(3) }} where {{ read.target.toFixed(3) }} was wanted; single
      readings scatter by {{ read.spreadPct.toFixed(1) }} %.
    </figcaption>
    <svg
      class="w-full"
      :viewBox="`0 0 ${W} ${H}`"
      role="img"
      :aria-label="`${read.points.length} readings, fuel still to be added, within ${most.toFixed(0)} percent`"
    >
      <line class="stroke-soft" :x1="LEFT" :x2="W" :y1="y(0)" :y2="y(0)" />
      <text :x="LEFT - 8" :y="y(0) + 6" text-anchor="end">0</text>
      <text :x="LEFT - 8" :y="20" text-anchor="end">+{{ most.toFixed(0) }} %</text>
      <text :x="LEFT - 8" :y="H - 6" text-anchor="end">−{{ most.toFixed(0) }} %</text>
      <circle v-for="(d, k) in dots" :key="k" class="fill-data" :cx="d.x" :cy="d.y" r="3" />
    </svg>
  </figure>
</template>

<style scoped>
text {
  font: 500 var(--t3) var(--head);
  fill: var(--soft);
}
</style>
