<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Axes } from '@vectum/core'

/** A table as a surface seen from a corner; dragged, or turned with the keys, it goes round. The grid beside it has the numbers. */
const props = defineProps<{ axes: Axes; cells: number[]; label: string; marked: { i: number; j: number } }>()
const turn = ref(-35)
const W = 640
const H = 300
const span = (list: readonly number[], v: number) => (v - list[0]) / (list[list.length - 1] - list[0]) - 0.5
const range = computed(() => ({ low: Math.min(...props.cells), high: Math.max(...props.cells) }))
/** An oblique view: turned about the upright axis, then looked at from above. */
function place(i: number, j: number): [number, number] {
  const x = span(props.axes.rpm, props.axes.rpm[i])
  const y = span(props.axes.mapKpa, props.axes.mapKpa[j])
  const a = (turn.value * Math.PI) / 180
  const { low, high } = range.value
  const z = (props.cells[j * props.axes.rpm.length + i] - low) / Math.max(1e-9, high - low)
  const across = x * Math.cos(a) - y * Math.sin(a)
  const away = x * Math.sin(a) + y * Math.cos(a)
  return [W / 2 + across * 400, H - 70 - away * 110 - z * 150]
}
const at = (p: [number, number]) => `${p[0].toFixed(1)} ${p[1].toFixed(1)}`
const lines = computed(() => {
  const { rpm, mapKpa } = props.axes
  const along = mapKpa.map((_, j) => `M${rpm.map((__, i) => at(place(i, j))).join('L')}`)
  const across = rpm.map((_, i) => `M${mapKpa.map((__, j) => at(place(i, j))).join('L')}`)
  return [...along, ...across].join('')
})
const point = computed(() => place(props.marked.i, props.marked.j))
const corners = computed(() => {
  const { rpm, mapKpa } = props.axes
  const [m, n] = [rpm.length - 1, mapKpa.length - 1]
  return [
    { at: place(0, 0), text: `${rpm[0]} rpm, ${mapKpa[0]} kPa` },
    { at: place(m, 0), text: `${rpm[m]} rpm` },
    { at: place(0, n), text: `${mapKpa[n]} kPa` },
  ]
})
let from: { x: number; turn: number } | null = null
function down(event: PointerEvent): void {
  from = { x: event.clientX, turn: turn.value }
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
}
function move(event: PointerEvent): void {
  if (from) turn.value = Math.min(80, Math.max(-80, from.turn + (event.clientX - from.x) / 3))
}
function key(event: KeyboardEvent): void {
  const step = { ArrowLeft: -5, ArrowRight: 5 }[event.key]
  if (!step) return
  event.preventDefault()
  turn.value = Math.min(80, Math.max(-80, turn.value + step))
}
</script>

<template>
  <svg
    class="w-full max-h-300px [touch-action:pan-y] cursor-grab bg-sheet"
    :viewBox="`0 0 ${W} ${H}`"
    role="img"
    tabindex="0"
    :aria-label="`${label} as a surface from ${range.low.toFixed(1)} to ${range.high.toFixed(1)}; left and right turn it`"
    @pointerdown="down"
    @pointermove="move"
    @pointerup="from = null"
    @pointercancel="from = null"
    @keydown="key"
  >
    <path :d="lines" class="mesh fill-none stroke-data stroke-1.1" />
    <text v-for="c in corners" :key="c.text" :x="c.at[0]" :y="c.at[1] + 20" text-anchor="middle">{{ c.text }}</text>
    <circle :cx="point[0]" :cy="point[1]" r="6" class="fill-stop" />
  </svg>
</template>
