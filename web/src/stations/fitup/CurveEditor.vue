<script setup lang="ts">
import { computed, ref } from 'vue'
import { pedalMap } from '@vectum/core'
import { useSvgDrag } from '../../drawing/use-svg-drag.ts'

/** Plate over pedal through points that are dragged up and down; it never falls, and both ends stand. */
const props = defineProps<{ points: readonly { pedalPct: number; platePct: number }[] }>()
const emit = defineEmits<{ move: [index: number, platePct: number]; done: [] }>()
const svg = ref<SVGSVGElement>()
const { start } = useSvgDrag(svg)
const W = 420
const H = 300
const x = (pct: number): number => 40 + ((W - 56) * pct) / 100
const y = (pct: number): number => 12 + (H - 44) * (1 - pct / 100)
const map = computed(() => pedalMap({ curve: [...props.points] }))
const path = computed(() =>
  Array.from({ length: 101 }, (_, p) => `${p ? 'L' : 'M'}${x(p).toFixed(1)} ${y(map.value(p)).toFixed(1)}`).join(''),
)
const held = (i: number, platePct: number): number => {
  const low = props.points[i - 1]?.platePct ?? 0
  const high = props.points[i + 1]?.platePct ?? 100
  return Math.round(2 * Math.min(high, Math.max(low, platePct))) / 2
}
const down = (i: number): void =>
  start(
    (to) => emit('move', i, held(i, 100 * (1 - (to.y - 12) / (H - 44)))),
    () => emit('done'),
  )
function nudge(event: KeyboardEvent, i: number): void {
  const by = { ArrowUp: 1, ArrowDown: -1 }[event.key]
  if (!by) return
  event.preventDefault()
  emit('move', i, held(i, props.points[i].platePct + by))
  emit('done')
}
</script>

<template>
  <svg ref="svg" class="block w-full max-w-520px touch-none" :viewBox="`0 0 ${W} ${H}`" role="group" aria-label="Plate over pedal">
    <line :x1="x(0)" :y1="y(0)" :x2="x(100)" :y2="y(100)" class="stroke-hair stroke-dash-[5_5]" />
    <g v-for="t in [0, 25, 50, 75, 100]" :key="t">
      <line :x1="x(0)" :x2="x(100)" :y1="y(t)" :y2="y(t)" class="stroke-hair" />
      <text class="head-t2 fill-soft" :x="x(0) - 6" :y="y(t) + 5" text-anchor="end">{{ t }}</text>
      <text class="head-t2 fill-soft" :x="x(t)" :y="H - 12" text-anchor="middle">{{ t }}</text>
    </g>
    <path :d="path" class="pen" />
    <circle
      v-for="(p, i) in points"
      :key="p.pedalPct"
      class="fill-sheet stroke-ink stroke-3 cursor-ns-resize"
      :cx="x(p.pedalPct)"
      :cy="y(p.platePct)"
      r="11"
      tabindex="0"
      role="slider"
      :aria-label="`Plate at ${p.pedalPct} % of the pedal`"
      :aria-valuenow="p.platePct"
      :data-testid="`curve-${i}`"
      @pointerdown.prevent="down(i)"
      @keydown="nudge($event, i)"
    />
  </svg>
</template>
