<script setup lang="ts">
import { computed, ref } from 'vue'
import { useSvgDrag } from '../../drawing/use-svg-drag.ts'
import { useSettings } from '../../stores/settings.ts'

/** The exhaust from the port to its open end with the stretch that a sensor may sit on, and the pipe cut through with the sensor turned up. */
const props = defineProps<{
  fromPortMm: number | null
  lengthMm: number | null
  mergeMm: number | null
  upDeg: number | null
  stretch: { fromMm: number; toMm: number } | null
  still?: boolean
}>()
const emit = defineEmits<{ move: [mm: number]; turn: [deg: number]; done: [] }>()
const settings = useSettings()
const svg = ref<SVGSVGElement>()
const { start } = useSvgDrag(svg)
const LEFT = 40
const RIGHT = 720
const USUAL_MM = 2200
const shownMm = computed(() => Math.max(props.lengthMm ?? USUAL_MM, (props.fromPortMm ?? 0) + 300))
const x = (mm: number): number => LEFT + ((RIGHT - LEFT) * mm) / shownMm.value
const Y = 110
const C = { x: 130, y: 330, r: 62 }
const RAD = Math.PI / 180
const up = computed(() => (props.upDeg ?? 0) * RAD)
const tip = computed(() => ({ x: C.x + (C.r + 64) * Math.cos(up.value), y: C.y - (C.r + 64) * Math.sin(up.value) }))
const root = computed(() => ({ x: C.x + (C.r - 14) * Math.cos(up.value), y: C.y - (C.r - 14) * Math.sin(up.value) }))
const level = (deg: number): { x: number; y: number } => ({
  x: C.x + (C.r + 80) * Math.cos(deg * RAD),
  y: C.y - (C.r + 80) * Math.sin(deg * RAD),
})
const arc = computed(() => {
  const [a, b] = [level(10), level(90)]
  return `M${C.x} ${C.y} L${a.x} ${a.y} A${C.r + 80} ${C.r + 80} 0 0 0 ${b.x} ${b.y} Z`
})
const STEP_MM = 10
const toMm = (px: number): number => Math.max(50, STEP_MM * Math.round(((px - LEFT) / (RIGHT - LEFT)) * (shownMm.value / STEP_MM)))
const slide = (): void => {
  if (!props.still)
    start(
      (to) => emit('move', toMm(to.x)),
      () => emit('done'),
    )
}
const turn = (): void => {
  if (!props.still)
    start(
      (to) => emit('turn', Math.round(Math.max(-90, Math.min(90, Math.atan2(C.y - to.y, Math.max(1, to.x - C.x)) / RAD)))),
      () => emit('done'),
    )
}
function nudge(event: KeyboardEvent, what: 'move' | 'turn'): void {
  const by = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key]
  if (!by) return
  event.preventDefault()
  if (what === 'move') emit('move', (props.fromPortMm ?? 0) + by * STEP_MM)
  else emit('turn', (props.upDeg ?? 0) + by)
  emit('done')
}
</script>

<template>
  <svg
    ref="svg"
    class="block w-full max-w-820px touch-none"
    viewBox="0 0 760 430"
    :role="still ? 'img' : 'group'"
    aria-label="Exhaust sensor on the pipe"
  >
    <rect :x="LEFT" :y="Y - 20" :width="RIGHT - LEFT" height="40" class="pipe fill-wash stroke-soft stroke-2" />
    <rect
      v-if="stretch"
      :x="x(stretch.fromMm)"
      :y="Y - 20"
      :width="Math.max(2, x(stretch.toMm) - x(stretch.fromMm))"
      height="40"
      class="fill-clear opacity-30"
    />
    <text :x="LEFT" :y="Y + 48">port</text>
    <text :x="RIGHT" :y="Y + 48" text-anchor="end">open end</text>
    <template v-if="mergeMm !== null">
      <line :x1="x(mergeMm)" :x2="x(mergeMm)" :y1="Y - 34" :y2="Y + 30" class="stroke-ink stroke-4" />
      <text :x="x(mergeMm)" :y="Y + 72" text-anchor="middle">branches merge</text>
    </template>
    <g
      v-if="fromPortMm !== null"
      class="sensor cursor-grab"
      :tabindex="still ? undefined : 0"
      :role="still ? undefined : 'slider'"
      :aria-label="still ? undefined : 'Sensor along the pipe'"
      :aria-valuenow="still ? undefined : fromPortMm"
      data-testid="sensor-slide"
      @pointerdown.prevent="slide()"
      @keydown="nudge($event, 'move')"
    >
      <rect class="fill-data" :x="x(fromPortMm) - 10" :y="Y - 64" width="20" height="52" rx="3" />
      <text :x="x(fromPortMm)" :y="Y - 74" text-anchor="middle">{{ settings.format(fromPortMm, 'length', 0) }}</text>
    </g>
    <path :d="arc" class="fill-clear opacity-30" />
    <circle :cx="C.x" :cy="C.y" :r="C.r" class="pipe fill-wash stroke-soft stroke-2" />
    <line :x1="C.x - 110" :x2="C.x + 175" :y1="C.y" :y2="C.y" class="level stroke-soft stroke-dash-[6_5]" />
    <text :x="C.x + 180" :y="C.y + 6" class="fill-soft">level</text>
    <line
      v-if="upDeg !== null"
      :x1="root.x"
      :y1="root.y"
      :x2="tip.x"
      :y2="tip.y"
      class="stroke-data stroke-20 stroke-cap-round cursor-grab"
      :tabindex="still ? undefined : 0"
      :role="still ? undefined : 'slider'"
      :aria-label="still ? undefined : 'Sensor turned up'"
      :aria-valuenow="still ? undefined : upDeg"
      data-testid="sensor-turn"
      @pointerdown.prevent="turn()"
      @keydown="nudge($event, 'turn')"
    />
    <text v-if="upDeg !== null" :x="C.x + 180" :y="C.y - 60">{{ upDeg }}° {{ upDeg >= 0 ? 'over' : 'under' }} level</text>
    <text :x="C.x" :y="C.y + 92" text-anchor="middle" class="fill-soft">cut through, seen along the pipe</text>
  </svg>
</template>

<style scoped>
text {
  font: 600 var(--t3) var(--head);
  fill: var(--ink);
}
</style>
