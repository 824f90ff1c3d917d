<script setup lang="ts">
import { computed, ref } from 'vue'
import { alignAfterCapTurn, rotorAngleDeg, towers, widthDistDeg } from '@vectum/core'
import { at, pointerAngle, ringSector } from '../../drawing/polar.ts'

/** The distributor from above, with true rotation and tower order. Drag the cap (or use the keys): rotor and terminal part as they would. */
const props = defineProps<{
  firingOrder: number[]
  rotation: 'clockwise' | 'anticlockwise'
  towerOneDeg: number
  alignDegBtdc: number
  crankDegBtdc: number
  minAdvanceDeg: number
  maxAdvanceDeg: number
  rotorRadiusMm: number
  tipWidthMm: number
  terminalWidthMm: number
}>()
const emit = defineEmits<{ 'update:alignDegBtdc': [number]; settled: [] }>()
const C = 170
const R = 118
const svg = ref<SVGSVGElement | null>(null)
const list = computed(() => towers(props.firingOrder, props.rotation, props.towerOneDeg))
const tipDeg = computed(() => widthDistDeg(props.tipWidthMm, props.rotorRadiusMm))
const terminalDeg = computed(() => widthDistDeg(props.terminalWidthMm, props.rotorRadiusMm))
const rotorAt = (crank: number) => rotorAngleDeg(crank, props.alignDegBtdc, props.rotation, props.towerOneDeg)
const rotor = computed(() => rotorAt(props.crankDegBtdc))
const grabbed = ref<{ angle: number; align: number } | null>(null)

function grab(event: PointerEvent): void {
  if (!svg.value) return
  grabbed.value = { angle: pointerAngle(event, svg.value, C, C), align: props.alignDegBtdc }
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
}
function move(event: PointerEvent): void {
  if (!grabbed.value || !svg.value) return
  let turned = pointerAngle(event, svg.value, C, C) - grabbed.value.angle
  if (turned > 180) turned -= 360
  if (turned < -180) turned += 360
  emit('update:alignDegBtdc', Math.round(alignAfterCapTurn(grabbed.value.align, turned, props.rotation)))
}
function drop(): void {
  if (grabbed.value) emit('settled')
  grabbed.value = null
}
function key(event: KeyboardEvent): void {
  const step = { ArrowLeft: -1, ArrowUp: 1, ArrowRight: 1, ArrowDown: -1 }[event.key]
  if (!step) return
  event.preventDefault()
  emit('update:alignDegBtdc', props.alignDegBtdc + step * (event.shiftKey ? 5 : 1))
  emit('settled')
}
</script>

<template>
  <svg
    ref="svg"
    class="w-full touch-none overflow-visible"
    viewBox="0 0 340 340"
    @pointermove="move"
    @pointerup="drop"
    @pointercancel="drop"
  >
    <g
      class="cap"
      role="slider"
      tabindex="0"
      aria-label="Cap: rotor in line at"
      :aria-valuenow="alignDegBtdc"
      aria-valuemin="-60"
      aria-valuemax="120"
      :aria-valuetext="`rotor and terminal in line at ${alignDegBtdc} crank degrees before top centre`"
      @pointerdown="grab"
      @keydown="key"
    >
      <circle :cx="C" :cy="C" :r="R + 14" class="body" />
      <circle :cx="C" :cy="C" :r="R - 42" class="path" />
      <g v-for="t in list" :key="t.cylinder">
        <path
          :d="ringSector(C, C, R - 46, R - 37, t.angleDeg - terminalDeg / 2, t.angleDeg + terminalDeg / 2)"
          class="terminal"
          :class="{ one: t.cylinder === firingOrder[0] }"
        />
        <text
          :x="at(C, C, R + 32, t.angleDeg)[0]"
          :y="at(C, C, R + 32, t.angleDeg)[1] + 8"
          text-anchor="middle"
          class="svg-text"
          :class="{ big: t.cylinder === firingOrder[0] }"
        >
          {{ t.cylinder }}
        </text>
      </g>
    </g>
    <path :d="ringSector(C, C, R - 60, R - 49, rotorAt(maxAdvanceDeg) - tipDeg / 2, rotorAt(minAdvanceDeg) + tipDeg / 2)" class="swept" />
    <path
      :d="`M${at(C, C, 14, rotor - 60)} L${at(C, C, R - 49, rotor - tipDeg / 2)} A${R - 49} ${R - 49} 0 0 1 ${at(C, C, R - 49, rotor + tipDeg / 2)} L${at(C, C, 14, rotor + 60)}Z`"
      class="rotor"
    />
    <path :d="ringSector(C, C, 0, 34, rotor + 165, rotor + 195)" class="rotor" />
    <circle :cx="C" :cy="C" r="12" class="hub" />
    <g :transform="rotation === 'clockwise' ? undefined : `translate(${2 * C} 0) scale(-1 1)`">
      <path class="fill-none stroke-soft stroke-2" :d="`M${at(C, C, 52, 50)} A52 52 0 0 1 ${at(C, C, 52, 120)}`" />
      <path class="fill-none stroke-soft stroke-2" :d="`M${at(C, C, 45, 112)} L${at(C, C, 52, 122)} L${at(C, C, 59, 111)}`" />
    </g>
  </svg>
</template>

<style scoped>
.body {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 1.5;
}
.path {
  fill: none;
  stroke: var(--hair);
}
.terminal {
  fill: var(--ink);
}
.one {
  fill: var(--stop);
}
.cap {
  cursor: grab;
}
.cap:focus-visible {
  outline: none;
}
.cap:focus-visible .body {
  stroke: var(--data);
  stroke-width: 4;
}
.rotor {
  fill: var(--ink);
}
.swept {
  fill: var(--data);
  opacity: 0.3;
}
.hub {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.5;
}
.svg-text {
  font-size: var(--t4);
}
.big {
  font-size: var(--t5);
}
</style>
