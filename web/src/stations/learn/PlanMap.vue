<script setup lang="ts">
import { computed } from 'vue'
import { type DrivePlan, place } from '@vectum/core'
import { loadWords } from './cell-words.ts'

/** The plan on the map: cells by what becomes of them, and each leg where it puts the engine: a dot for a hold, an arrow for a run. */
const props = defineProps<{ plan: DrivePlan; lit?: number | null }>()
const W = 52
const H = 44
const X0 = 58
const FOOT = 34
const nr = computed(() => props.plan.rpm.length)
const height = computed(() => props.plan.axis.length * H)
const words: Record<DrivePlan['cells'][number]['where'], string> = {
  proven: 'proven',
  'correct-first': 'measured, to be corrected first',
  driven: 'driven long enough',
  road: 'on this drive',
  dyno: 'for a dynamometer',
  seldom: 'too seldom used to be driven for',
}
/** Place of a value among the middles of the cells, in cells. */
function along(axis: readonly number[], value: number): number {
  const { index, fraction } = place(axis, value)
  return index + fraction
}
const x = (rpm: number): number => X0 + (along(props.plan.rpm, rpm) + 0.5) * W
const y = (load: number): number => height.value - (along(props.plan.axis, load) + 0.5) * H
const cells = computed(() =>
  props.plan.cells.map((cell, c) => ({ ...cell, c, rpm: props.plan.rpm[c % nr.value], load: props.plan.axis[Math.floor(c / nr.value)] })),
)
const legs = computed(() =>
  props.plan.legs.map((leg, i) => ({ i, x1: x(leg.fromRpm), x2: x(leg.toRpm), y: y(leg.load), run: leg.fromRpm !== leg.toRpm })),
)
</script>

<template>
  <svg
    class="w-full"
    :viewBox="`0 0 ${X0 + nr * W + 4} ${height + FOOT}`"
    role="img"
    :aria-label="`The plan on the map: ${plan.legs.length} legs`"
  >
    <defs>
      <marker id="leg-tip" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="6" markerHeight="6" orient="auto">
        <path d="M0 0L8 4L0 8z" class="tip" />
      </marker>
    </defs>
    <g v-for="c in cells" :key="c.c" :class="c.where">
      <rect class="fill-paper" :x="X0 + (c.c % nr) * W + 1" :y="height - (Math.floor(c.c / nr) + 1) * H + 1" :width="W - 2" :height="H - 2">
        <title>
          {{ c.rpm }} rpm, {{ c.load }} {{ loadWords[plan.by].unit }}: {{ words[c.where] }}; {{ c.usePct.toFixed(1) }} % of the driving
        </title>
      </rect>
    </g>
    <g v-for="l in legs" :key="l.i" class="leg" :class="{ lit: lit === l.i }">
      <line v-if="l.run" class="stroke-ink stroke-3" :x1="l.x1" :y1="l.y" :x2="l.x2" :y2="l.y" marker-end="url(#leg-tip)" />
      <circle class="fill-ink" :cx="l.x1" :cy="l.y" r="16" />
      <text class="head-t4 fill-sheet" :x="l.x1" :y="l.y + 8" text-anchor="middle">{{ l.i + 1 }}</text>
    </g>
    <text
      v-for="(m, j) in plan.axis"
      :key="`m${m}`"
      :x="X0 - 8"
      :y="height - j * H - H / 2 + 9"
      text-anchor="end"
      class="axis head-t4 fill-sheet"
    >
      {{ m }}
    </text>
    <text
      v-for="(r, i) in plan.rpm"
      :key="`r${r}`"
      :x="X0 + i * W + W / 2"
      :y="height + 27"
      text-anchor="middle"
      class="axis head-t4 fill-sheet"
    >
      {{ i % 2 ? '' : r }}
    </text>
  </svg>
</template>

<style scoped>
.proven rect,
.driven rect {
  fill: var(--clear);
}
.correct-first rect {
  fill: color-mix(in srgb, var(--data) 38%, var(--sheet));
}
.road rect {
  fill: color-mix(in srgb, var(--ink) 16%, var(--sheet));
}
.dyno rect {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-dasharray: 2 4;
}
.axis {
  fill: var(--soft);
  font-weight: 500;
}
.tip {
  fill: var(--ink);
}
.lit circle {
  fill: var(--data);
}
.lit line {
  stroke: var(--data);
  stroke-width: 5;
}
</style>
