<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Harness, Point } from '@vectum/core'
import { BAY, WHOLE } from './plan-frame.ts'
import { labelSpots } from './plan-labels.ts'
import { usePlaceDrag } from './use-place-drag.ts'

/**
 * The car from above, front at the left, with the harness laid on it: the thicker a bundle, the more wires lie in it. Places are dragged; way points
 * are tapped while a circuit is drawn.
 */
const props = defineProps<{
  harness: Harness
  baseMm: number
  picked: string | null
  drawing?: boolean
  whole?: boolean
  still?: boolean
}>()
const emit = defineEmits<{
  drag: [at: (Point & { id: string }) | null]
  move: [id: string, to: Point]
  point: [id: string]
  place: [id: string]
}>()
const svg = ref<SVGSVGElement>()
const { dragged, start } = usePlaceDrag(
  svg,
  (id, to) => emit('move', id, to),
  (id) => emit('place', id),
)
const x = (share: number): number => share * props.baseMm
const frame = computed(() => {
  const [from, to] = props.whole ? WHOLE : BAY
  return { left: x(from), right: x(to), top: x(-0.33), bottom: x(0.33) }
})
const size = computed(() => (frame.value.right - frame.value.left) / (props.whole ? 66 : 46))
const at = (id: string): Point =>
  dragged.value?.id === id ? dragged.value : (props.harness.places.get(id) ?? props.harness.wayPoints.get(id))!
const used = computed(() => new Set(props.harness.wires.flatMap((w) => [w.circuit.from, w.circuit.to])))
const inFrame = (p: Point): boolean => p.xMm <= frame.value.right && p.xMm >= frame.value.left
const places = computed(() => [...props.harness.places.values()].filter((p) => used.value.has(p.id) && inFrame(at(p.id))))
const labels = computed(() =>
  labelSpots(
    places.value.map((p) => ({ id: p.id, text: p.label, x: at(p.id).xMm, y: at(p.id).yMm })),
    size.value,
    frame.value,
  ),
)
const bundles = computed(() =>
  props.harness.bundles.map((b) => ({
    key: `${b.from} ${b.to}`,
    a: at(b.from),
    b: at(b.to),
    width: size.value * (0.14 + 0.11 * Math.sqrt(b.circuits.length)),
  })),
)
const pickedWire = computed(() => props.harness.wires.find((w) => w.circuit.id === props.picked) ?? null)
const pickedPath = computed(() => pickedWire.value?.run.through.map((id) => `${at(id).xMm},${at(id).yMm}`).join(' ') ?? '')
const near = computed(() => new Set(pickedWire.value?.run.near.map((n) => n.hazard) ?? []))
const down = (event: PointerEvent, id: string): void => {
  if (!props.still) start(event, id)
}
const STEP_MM = 20
const steps: Record<string, readonly [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }
function nudge(event: KeyboardEvent, p: Point & { id: string }): void {
  if (event.key === 'Enter') emit('place', p.id)
  const by = steps[event.key]
  if (!by) return
  event.preventDefault()
  emit('move', p.id, { xMm: p.xMm + STEP_MM * by[0], yMm: p.yMm + STEP_MM * by[1] })
}
// what is dragged is laid anew while it moves
const onMove = (): void => {
  if (dragged.value) emit('drag', dragged.value)
}
</script>

<template>
  <svg
    ref="svg"
    class="plan"
    :viewBox="`${frame.left} ${frame.top} ${frame.right - frame.left} ${frame.bottom - frame.top}`"
    :role="still ? 'img' : 'group'"
    aria-label="The car from above with its harness"
    @pointermove="onMove"
  >
    <g class="car" :stroke-width="size * 0.12">
      <path
        class="fill-none stroke-soft"
        :d="`M${x(-0.2)} ${x(-0.2)} Q${x(-0.24)} 0 ${x(-0.2)} ${x(0.2)} L${x(-0.1)} ${x(0.31)} L${x(1.2)} ${x(0.31)} Q${x(1.3)} ${x(0.25)} ${x(1.3)} 0 Q${x(1.3)} ${x(-0.25)} ${x(1.2)} ${x(-0.31)} L${x(-0.1)} ${x(-0.31)} Z`"
      />
      <rect :x="x(-0.02)" :y="x(-0.09)" :width="x(0.24)" :height="x(0.18)" :rx="size" class="engine" />
      <line :x1="x(0.3)" :x2="x(0.3)" :y1="x(-0.31)" :y2="x(0.31)" class="fill-none stroke-soft stroke-dash-[30_20]" />
      <line :x1="x(0.9)" :x2="x(0.9)" :y1="x(-0.31)" :y2="x(0.31)" class="fill-none stroke-soft stroke-dash-[30_20]" />
    </g>
    <text :x="x(0.1)" :y="x(0.3)" :style="{ fontSize: `${size}px` }" class="zone">bay</text>
    <text :x="x(0.4)" :y="x(0.3)" :style="{ fontSize: `${size}px` }" class="zone">cabin</text>
    <text v-if="whole" :x="x(1.05)" :y="x(0.3)" :style="{ fontSize: `${size}px` }" class="zone">boot</text>
    <line
      v-for="h in harness.hazards"
      :key="h.label + h.from.yMm"
      :x1="h.from.xMm"
      :y1="h.from.yMm"
      :x2="h.to.xMm"
      :y2="h.to.yMm"
      class="hazard"
      :class="{ near: near.has(h) }"
      :stroke-width="size * 0.9"
      :stroke-dasharray="`${size * 0.2} ${size * 0.35}`"
    >
      <title>{{ h.label }}</title>
    </line>
    <line
      v-for="b in bundles"
      :key="b.key"
      :x1="b.a.xMm"
      :y1="b.a.yMm"
      :x2="b.b.xMm"
      :y2="b.b.yMm"
      class="bundle"
      :stroke-width="b.width"
    />
    <polyline v-if="pickedPath" :points="pickedPath" class="picked" :stroke-width="size * 0.5" />
    <g v-for="p in harness.wayPoints.values()" :key="p.id">
      <circle
        v-if="inFrame(p)"
        :cx="p.xMm"
        :cy="p.yMm"
        :r="drawing ? size * 0.9 : size * 0.28"
        class="way"
        :class="{ hole: p.panel, open: drawing }"
        :stroke-width="size * 0.14"
        :tabindex="drawing ? 0 : undefined"
        :role="drawing ? 'button' : undefined"
        :aria-label="drawing ? p.id.replaceAll('-', ' ') : undefined"
        :data-at="p.id"
        :data-testid="`way-${p.id}`"
        @click="drawing && emit('point', p.id)"
        @keydown.enter="drawing && emit('point', p.id)"
      />
    </g>
    <rect
      v-for="p in places"
      :key="p.id"
      :x="at(p.id).xMm - size * 0.45"
      :y="at(p.id).yMm - size * 0.45"
      :width="size * 0.9"
      :height="size * 0.9"
      class="place"
      :class="{ moved: !p.usual, end: pickedWire && [pickedWire.circuit.from, pickedWire.circuit.to].includes(p.id) }"
      :stroke-width="size * 0.12"
      :data-at="p.id"
      :data-testid="`place-${p.id}`"
      :tabindex="still ? undefined : 0"
      :role="still ? undefined : 'button'"
      :aria-label="still ? undefined : `${p.label}, moved by arrow keys`"
      @pointerdown.prevent="down($event, p.id)"
      @keydown="nudge($event, p)"
    >
      <title>{{ p.label }}{{ p.usual ? ', where it usually sits' : '' }}</title>
    </rect>
    <text v-for="l in labels" :key="l.id" :x="l.x" :y="l.y" :text-anchor="l.anchor" :style="{ fontSize: `${size}px` }" class="name">
      {{ l.text }}
    </text>
  </svg>
</template>

<style scoped>
.plan {
  display: block;
  width: 100%;
  touch-action: none;
  font-family: var(--head);
}
.engine {
  fill: var(--wash);
  stroke: var(--hair);
}
.zone {
  fill: var(--soft);
  letter-spacing: 0.08em;
}
.hazard {
  stroke: var(--warn);
  opacity: 0.55;
}
.hazard.near {
  stroke: var(--stop);
  opacity: 1;
}
.bundle {
  stroke: var(--ink);
  stroke-linecap: round;
  opacity: 0.7;
}
.picked {
  fill: none;
  stroke: var(--data);
  stroke-linejoin: round;
}
.way {
  fill: var(--sheet);
  stroke: var(--soft);
}
.way.hole {
  stroke: var(--ink);
}
.way.open {
  cursor: pointer;
  stroke: var(--data);
}
.place {
  fill: var(--sheet);
  stroke: var(--ink);
  cursor: grab;
}
.place.moved {
  fill: var(--ink);
}
.place.end {
  stroke: var(--data);
  fill: var(--data);
}
.name {
  fill: var(--ink);
  font-weight: 600;
  pointer-events: none;
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 10px;
}
</style>
