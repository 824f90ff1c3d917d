<script setup lang="ts">
import { computed, ref } from 'vue'
import { type BoltAt, boltOrder } from '@vectum/core'
import { useSvgDrag } from '../../drawing/use-svg-drag.ts'

/** A flange from above with the order of its bolts; a bolt is dragged, or moved by the arrow keys, to where it really sits. */
const props = defineProps<{ bolts: readonly BoltAt[]; label: string; still?: boolean }>()
const emit = defineEmits<{ move: [index: number, to: BoltAt]; done: [] }>()
const svg = ref<SVGSVGElement>()
const { start } = useSvgDrag(svg)
const reach = computed(() => {
  const x = Math.max(30, ...props.bolts.map((b) => Math.abs(b.xMm)))
  const y = Math.max(30, ...props.bolts.map((b) => Math.abs(b.yMm)))
  return { x: x * 1.28 + 22, y: y * 1.28 + 22 }
})
const size = computed(() => Math.max(reach.value.x, reach.value.y * 1.6) / 16)
const order = computed(() => boltOrder(props.bolts))
const place = computed(() => new Map(order.value.map((bolt, i) => [bolt, i + 1])))
const way = computed(() => order.value.map((i) => `${props.bolts[i].xMm},${props.bolts[i].yMm}`).join(' '))
const STEP_MM = 1
const steps: Record<string, readonly [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }
function nudge(event: KeyboardEvent, i: number): void {
  const by = steps[event.key]
  if (!by) return
  event.preventDefault()
  const b = props.bolts[i]
  emit('move', i, { xMm: b.xMm + STEP_MM * by[0], yMm: b.yMm + STEP_MM * by[1] })
  emit('done')
}
function down(i: number): void {
  if (props.still) return
  start(
    (to) => emit('move', i, { xMm: Math.round(to.x), yMm: Math.round(to.y) }),
    () => emit('done'),
  )
}
</script>

<template>
  <svg
    ref="svg"
    class="pattern"
    :viewBox="`${-reach.x} ${-reach.y} ${2 * reach.x} ${2 * reach.y}`"
    :role="still ? 'img' : 'group'"
    :aria-label="`${label}: ${order.map((i) => i + 1).join(', ')}`"
  >
    <rect
      :x="-reach.x * 0.94"
      :y="-reach.y * 0.94"
      :width="reach.x * 1.88"
      :height="reach.y * 1.88"
      :rx="size"
      class="flange fill-wash stroke-soft"
      :stroke-width="size * 0.1"
    />
    <polyline
      :points="way"
      class="way fill-none stroke-data"
      :stroke-width="size * 0.12"
      :stroke-dasharray="`${size * 0.3} ${size * 0.3}`"
    />
    <g
      v-for="(b, i) in bolts"
      :key="i"
      :transform="`translate(${b.xMm} ${b.yMm})`"
      class="bolt cursor-grab"
      :tabindex="still ? undefined : 0"
      :role="still ? undefined : 'button'"
      :aria-label="still ? undefined : `Bolt ${i + 1}, number ${place.get(i)} in the order, moved by arrow keys`"
      :data-testid="`bolt-${i}`"
      @pointerdown.prevent="down(i)"
      @keydown="nudge($event, i)"
    >
      <circle class="fill-sheet stroke-ink" :r="size * 0.95" :stroke-width="size * 0.12" />
      <text class="fill-ink font-700" text-anchor="middle" :y="size * 0.42" :style="{ fontSize: `${size * 1.25}px` }">
        {{ place.get(i) }}
      </text>
    </g>
  </svg>
</template>

<style scoped>
.pattern {
  display: block;
  width: 100%;
  max-height: 420px;
  touch-action: none;
  font-family: var(--head);
}
</style>
