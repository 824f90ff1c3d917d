<script setup lang="ts">
import { computed } from 'vue'
import type { BonnetStack } from '@vectum/core'

/** The stack over the flange in section, the bonnet over it, and the strip that the engine's lift takes; thin lines show what heights may differ by. */
const props = defineProps<{ stack: BonnetStack; picked?: string | null }>()
const W = 660
const BASE = 400
const top = computed(() => Math.max(props.stack.freeMm ?? 0, props.stack.sumMm + props.stack.tiltMm + props.stack.liftMm) * 1.12 + 10)
const y = (mm: number): number => BASE - (mm * 360) / top.value
const WIDTH: Record<string, number> = { adapter: 150, spacer: 150, body: 190, base: 300, element: 280, lid: 310, stud: 24 }
const LINE = 27
const parts = computed(() => {
  // names one under the other, from the top part down, none on another
  let under = Math.max(74, y((props.stack.freeMm ?? 0) - props.stack.liftMm) + 24)
  const words = new Map<string, number>()
  for (const r of [...props.stack.rows].reverse()) {
    under = Math.max(under, y(r.topMm - r.heightMm / 2) + 8)
    words.set(r.part, under)
    under += LINE
  }
  return props.stack.rows.map((r) => {
    const from = r.topMm - r.heightMm
    return { ...r, y: y(Math.max(from, r.topMm)), height: Math.abs(y(from) - y(r.topMm)), width: WIDTH[r.part], wordsY: words.get(r.part)! }
  })
})
const ends = computed(() => [
  props.stack.sumMm + props.stack.tiltMm - props.stack.spreadMm,
  props.stack.sumMm + props.stack.tiltMm + props.stack.spreadMm,
])
const X = 230
</script>

<template>
  <svg class="block w-full max-h-460px" :viewBox="`0 0 ${W} 440`" role="img" aria-label="What stands on the flange, under the bonnet">
    <line x1="40" :x2="X * 2 - 40" :y1="BASE" :y2="BASE" class="flange stroke-ink stroke-6" />
    <g v-for="p in parts" :key="p.part" :data-at="p.part">
      <rect
        :x="X - p.width / 2"
        :y="p.y"
        :width="p.width"
        :height="Math.max(2, p.height)"
        class="part fill-wash stroke-soft stroke-dash-[5_4]"
        :class="{ told: p.told, picked: picked === p.part, dropped: p.heightMm < 0 }"
      />
      <line :x1="X + p.width / 2" :x2="X + 180" :y1="y(p.topMm - p.heightMm / 2)" :y2="p.wordsY - 8" class="stroke-hair" />
      <text class="head-t4 fill-ink" :x="X + 186" :y="p.wordsY">{{ p.label }}</text>
    </g>
    <line v-for="e in ends" :key="e" :x1="X - 170" :x2="X + 170" :y1="y(e)" :y2="y(e)" class="stroke-data stroke-dash-[4_4]" />
    <template v-if="stack.freeMm !== null">
      <rect
        :x="40"
        :y="y(stack.freeMm)"
        :width="X * 2 - 80"
        :height="y(stack.freeMm - stack.liftMm) - y(stack.freeMm)"
        class="lift fill-warn opacity-22"
      />
      <path
        :d="`M40 ${y(stack.freeMm) + 4} Q${X} ${y(stack.freeMm) - 8} ${X * 2 - 40} ${y(stack.freeMm) + 4}`"
        class="bonnet fill-none stroke-ink stroke-6"
      />
      <text class="head-t4 fill-ink" :x="X * 2 - 30" :y="y(stack.freeMm) + 4">bonnet</text>
      <text :x="X * 2 - 30" :y="y(stack.freeMm - stack.liftMm) + 4" class="soft-text head-t4 fill-ink">engine’s lift</text>
    </template>
  </svg>
</template>

<style scoped>
.soft-text {
  fill: var(--soft);
}
.part.told {
  stroke: var(--ink);
  stroke-width: 2;
  stroke-dasharray: none;
}
.part.picked {
  stroke: var(--data);
  stroke-width: 4;
}
.part.dropped {
  fill: none;
}
</style>
