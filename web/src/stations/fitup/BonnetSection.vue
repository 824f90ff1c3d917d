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
  <svg :viewBox="`0 0 ${W} 440`" role="img" aria-label="What stands on the flange, under the bonnet">
    <line x1="40" :x2="X * 2 - 40" :y1="BASE" :y2="BASE" class="flange" />
    <g v-for="p in parts" :key="p.part" :data-at="p.part">
      <rect
        :x="X - p.width / 2"
        :y="p.y"
        :width="p.width"
        :height="Math.max(2, p.height)"
        class="part"
        :class="{ told: p.told, picked: picked === p.part, dropped: p.heightMm < 0 }"
      />
      <line :x1="X + p.width / 2" :x2="X + 180" :y1="y(p.topMm - p.heightMm / 2)" :y2="p.wordsY - 8" class="lead" />
      <text :x="X + 186" :y="p.wordsY">{{ p.label }}</text>
    </g>
    <line v-for="e in ends" :key="e" :x1="X - 170" :x2="X + 170" :y1="y(e)" :y2="y(e)" class="spread" />
    <template v-if="stack.freeMm !== null">
      <rect :x="40" :y="y(stack.freeMm)" :width="X * 2 - 80" :height="y(stack.freeMm - stack.liftMm) - y(stack.freeMm)" class="lift" />
      <path :d="`M40 ${y(stack.freeMm) + 4} Q${X} ${y(stack.freeMm) - 8} ${X * 2 - 40} ${y(stack.freeMm) + 4}`" class="bonnet" />
      <text :x="X * 2 - 30" :y="y(stack.freeMm) + 4">bonnet</text>
      <text :x="X * 2 - 30" :y="y(stack.freeMm - stack.liftMm) + 4" class="soft-text">engine’s lift</text>
    </template>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-height: 460px;
}
text {
  font: 600 var(--t4) var(--head);
  fill: var(--ink);
}
.soft-text {
  fill: var(--soft);
}
.flange {
  stroke: var(--ink);
  stroke-width: 6;
}
.part {
  fill: var(--wash);
  stroke: var(--soft);
  stroke-dasharray: 5 4;
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
.lead {
  stroke: var(--hair);
}
.lift {
  fill: var(--warn);
  opacity: 0.22;
}
.bonnet {
  fill: none;
  stroke: var(--ink);
  stroke-width: 6;
}
.spread {
  stroke: var(--data);
  stroke-dasharray: 4 4;
}
</style>
