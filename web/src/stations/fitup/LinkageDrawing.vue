<script setup lang="ts">
import { computed, ref } from 'vue'
import { type Linkage, linkagePose } from '@vectum/core'
import { useSvgDrag } from '../../drawing/use-svg-drag.ts'

/** Pedal at the left, throttle at the right, in their own measures; the ends of pedal arm and throttle lever are dragged. */
const props = defineProps<{ linkage: Linkage; pedal: number; still?: boolean }>()
const emit = defineEmits<{ arm: [mm: number]; lever: [mm: number]; done: [] }>()
const svg = ref<SVGSVGElement>()
const { start } = useSvgDrag(svg)
const P = { x: 120, y: 230 }
const T = { x: 610, y: 150 }
const ZOOM = 1.6
const pose = computed(() => linkagePose(props.linkage, props.pedal))
const rest = computed(() => linkagePose(props.linkage, 0))
const onPedal = (s: { xMm: number; yMm: number }) => ({ x: P.x + s.xMm, y: P.y - s.yMm })
const pad = computed(() => onPedal(pose.value.pad))
const arm = computed(() => onPedal(pose.value.arm))
const guide = computed(() => onPedal(pose.value.guide))
const RAD = Math.PI / 180
/** the lever stands back from square by half of its way, so that it works about the middle of it */
const leverAt = computed(() => (-48 + (pose.value.leverDeg ?? 0)) * RAD)
const radius = computed(() => props.linkage.leverMm * ZOOM)
const lever = computed(() => {
  const rod = pose.value.rod
  if (rod) return { x: T.x + (rod.eye.xMm - rod.shaft.xMm) * ZOOM, y: T.y - rod.eye.yMm * ZOOM }
  return { x: T.x - radius.value * Math.cos(leverAt.value), y: T.y + radius.value * Math.sin(leverAt.value) }
})
const bell = computed(() => ({ x: T.x - props.linkage.rod.groundMm * ZOOM, y: T.y }))
const crank = computed(() => {
  const rod = pose.value.rod
  return rod ? { x: bell.value.x + rod.crank.xMm * ZOOM, y: bell.value.y - rod.crank.yMm * ZOOM } : bell.value
})
const locked = computed(() => pose.value.plateDeg === null)
const plate = computed(() => (pose.value.plateDeg ?? rest.value.plateDeg ?? 0) * RAD)
const BORE = { x: 610, y: 320, half: 46 }
const plateEnds = computed(() => {
  const [dx, dy] = [BORE.half * Math.cos(plate.value), BORE.half * Math.sin(plate.value)]
  return { x1: BORE.x - dx, y1: BORE.y - dy, x2: BORE.x + dx, y2: BORE.y + dy }
})
const dragArm = (): void => {
  if (!props.still)
    start(
      (to) => emit('arm', Math.round(Math.max(10, Math.hypot(to.x - P.x, to.y - P.y)))),
      () => emit('done'),
    )
}
const dragLever = (): void => {
  if (!props.still)
    start(
      (to) => emit('lever', Math.round((2 * Math.max(8, Math.hypot(to.x - T.x, to.y - T.y))) / ZOOM) / 2),
      () => emit('done'),
    )
}
function nudge(event: KeyboardEvent, what: 'arm' | 'lever'): void {
  const by = { ArrowUp: 1, ArrowDown: -1, ArrowRight: 1, ArrowLeft: -1 }[event.key]
  if (!by) return
  event.preventDefault()
  if (what === 'arm') emit('arm', props.linkage.pedal.armMm + by)
  else emit('lever', (props.linkage.kind === 'rod' ? props.linkage.rod.leverMm : props.linkage.leverMm) + by / 2)
  emit('done')
}
</script>

<template>
  <svg
    ref="svg"
    viewBox="0 0 720 520"
    class="linkage block w-full max-h-440px touch-none"
    :role="still ? 'img' : 'group'"
    aria-label="Linkage from pedal to plate"
  >
    <line x1="20" x2="300" y1="508" y2="508" class="stroke-soft stroke-3" />
    <text x="24" y="30" class="words fill-ink head-t5">pedal</text>
    <text x="540" y="30" class="words fill-ink head-t5">throttle</text>
    <line :x1="guide.x" :x2="guide.x" y1="40" y2="120" class="stroke-soft stroke-3" />
    <polyline :points="`${arm.x},${arm.y} ${P.x},${P.y} ${pad.x},${pad.y}`" class="bar" />
    <line :x1="pad.x - 14" :y1="pad.y + 10" :x2="pad.x + 22" :y2="pad.y - 10" class="stroke-ink stroke-14 stroke-cap-round" />
    <circle :cx="P.x" :cy="P.y" r="7" class="pivot" />
    <template v-if="linkage.kind === 'rod'">
      <path :d="`M${arm.x} ${arm.y} L${bell.x} ${bell.y - linkage.rod.inMm * 1.6}`" class="fill-none stroke-data stroke-4" />
      <polyline :points="`${bell.x},${bell.y - linkage.rod.inMm * 1.6} ${bell.x},${bell.y} ${crank.x},${crank.y}`" class="bar" />
      <line :x1="crank.x" :y1="crank.y" :x2="lever.x" :y2="lever.y" class="bar thin" />
      <circle :cx="bell.x" :cy="bell.y" r="7" class="pivot" />
    </template>
    <template v-else>
      <path
        :d="`M${arm.x} ${arm.y} L${guide.x} ${guide.y} C${guide.x + 150} ${guide.y} ${T.x - 220} ${lever.y} ${lever.x} ${lever.y}`"
        class="fill-none stroke-data stroke-4"
      />
      <circle v-if="linkage.cam !== 'lever'" :cx="T.x" :cy="T.y" :r="radius" class="cam fill-wash stroke-soft" />
    </template>
    <line :x1="T.x" :y1="T.y" :x2="lever.x" :y2="lever.y" class="bar" :class="{ locked }" />
    <circle :cx="T.x" :cy="T.y" r="7" class="pivot" />
    <rect :x="BORE.x - BORE.half - 8" :y="BORE.y - 80" width="8" height="160" class="fill-soft" />
    <rect :x="BORE.x + BORE.half" :y="BORE.y - 80" width="8" height="160" class="fill-soft" />
    <line v-bind="plateEnds" class="plate stroke-ink stroke-7 stroke-cap-round" />
    <text :x="BORE.x" :y="BORE.y + 112" text-anchor="middle" class="words fill-ink head-t5">
      {{ locked ? 'it locks' : `plate ${pose.plateDeg!.toFixed(0)}°` }}
    </text>
    <circle
      :cx="arm.x"
      :cy="arm.y"
      r="15"
      class="handle"
      :tabindex="still ? undefined : 0"
      :role="still ? undefined : 'slider'"
      :aria-label="still ? undefined : 'Arm of the pedal'"
      :aria-valuenow="still ? undefined : linkage.pedal.armMm"
      data-testid="arm-handle"
      @pointerdown.prevent="dragArm()"
      @keydown="nudge($event, 'arm')"
    />
    <circle
      :cx="lever.x"
      :cy="lever.y"
      r="15"
      class="handle"
      :tabindex="still ? undefined : 0"
      :role="still ? undefined : 'slider'"
      :aria-label="still ? undefined : 'Lever of the throttle'"
      :aria-valuenow="still ? undefined : linkage.kind === 'rod' ? linkage.rod.leverMm : linkage.leverMm"
      data-testid="lever-handle"
      @pointerdown.prevent="dragLever()"
      @keydown="nudge($event, 'lever')"
    />
  </svg>
</template>

<style scoped>
.bar {
  fill: none;
  stroke: var(--ink);
  stroke-width: 9;
  stroke-linecap: round;
  stroke-linejoin: round;
}
.bar.thin {
  stroke-width: 5;
}
.bar.locked {
  stroke: var(--stop);
}
.pivot,
.handle {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 3;
}
.handle {
  stroke: var(--data);
  cursor: grab;
}
</style>
