<script setup lang="ts">
import { computed, ref } from 'vue'
import { otherPulsesDeg, withinCycle } from '@vectum/core'
import { at, ringSector } from '../../drawing/polar.ts'
import { useDialDrag } from './use-dial-drag.ts'

/** The crank seen from the front, turning as this engine does: clockwise, degrees before top centre lie to the left. Drag the spark or the pulse. */
const props = defineProps<{
  advanceDeg: number
  referenceDeg: number | null
  minAdvanceDeg: number
  maxAdvanceDeg: number
  camSyncDeg: number | null
  /** where number one's crank pin is now, degrees before its firing top centre; 360 more is the other turn */
  crankDeg: number
  /** crank degrees between crank pulses, null where there are none to draw */
  intervalDeg: number | null
  /** crank degrees before the spark at which the coil begins to charge */
  dwellDeg: number | null
  slackDeg: number
  /** the crank turns the other way, seen from the front */
  anticlockwise?: boolean
}>()
const emit = defineEmits<{
  'update:advanceDeg': [number]
  'update:referenceDeg': [number]
  'update:crankDeg': [number]
  settled: []
}>()
const C = 190
const R = 162
const svg = ref<SVGSVGElement | null>(null)
/** degrees before top centre on the sheet, clockwise from its top */
const on = (deg: number): number => (props.anticlockwise ? deg : -deg)
const anchor = computed(() => (props.anticlockwise ? 'start' : 'end'))
const ticks = computed(() => Array.from({ length: 180 }, (_, i) => i * 2).map((d) => ({ d, long: d % 10 === 0 })))
const labels = computed(() => Array.from({ length: 12 }, (_, i) => (i + 1) * 10))
/** a line along a radius, from one distance of the centre to another */
function ends(deg: number, from: number, to: number) {
  const [x1, y1] = at(C, C, from, on(deg))
  const [x2, y2] = at(C, C, to, on(deg))
  return { x1, y1, x2, y2 }
}
/** the other cylinders' pulses, as they stand round one crank turn */
const otherPulses = computed(() =>
  props.referenceDeg === null || props.intervalDeg === null ? [] : otherPulsesDeg(props.referenceDeg, props.intervalDeg),
)
const near = (deg: number) => Math.abs(withinCycle(props.crankDeg - deg)) < 4
const sparking = computed(() => near(props.advanceDeg))
const pulsing = computed(() => props.referenceDeg !== null && near(props.referenceDeg))
const pin = computed(() => at(C, C, R + 1, on(props.crankDeg)))
// an unwrapped cam sync of more than one turn is drawn where it is seen, with its turn said beside it
const syncShown = computed(() => (props.camSyncDeg === null ? null : props.camSyncDeg % 360))

const { move, grab, drop, key } = useDialDrag(svg, C, props, emit, on)
</script>

<template>
  <svg
    ref="svg"
    class="w-full touch-none overflow-visible"
    viewBox="0 0 380 380"
    @pointermove="move"
    @pointerup="drop"
    @pointercancel="drop"
  >
    <circle :cx="C" :cy="C" :r="R" class="stroke-ink stroke-1.5 fill-paper" />
    <path :d="ringSector(C, C, R - 44, R - 26, on(maxAdvanceDeg), on(minAdvanceDeg))" class="fill-data opacity-30" />
    <path
      v-if="dwellDeg !== null"
      :d="ringSector(C, C, R - 24, R - 17, on(advanceDeg + dwellDeg), on(advanceDeg))"
      class="fill-warn opacity-60"
    />
    <path
      v-if="referenceDeg !== null && slackDeg > 0"
      :d="ringSector(C, C, R, R + 7, on(referenceDeg + slackDeg / 2), on(referenceDeg - slackDeg / 2))"
      class="fill-warn opacity-60"
    />
    <line v-for="d in otherPulses" :key="`p${d}`" v-bind="ends(d, R - 8, R + 6)" class="other stroke-soft stroke-2" />
    <g v-for="t in ticks" :key="t.d">
      <line v-bind="ends(t.d, R, R - (t.long ? 13 : 7))" class="tick stroke-ink" />
    </g>
    <text v-for="d in labels" :key="d" :x="at(C, C, R - 58, on(d))[0]" :y="at(C, C, R - 58, on(d))[1] + 6" text-anchor="middle" class="deg">
      {{ d }}
    </text>
    <line :x1="C" :y1="C - 34" :x2="C" :y2="C - R - 12" class="stroke-ink stroke-1.5" />
    <text :x="C + 6" :y="C - R - 8" class="svg-text">top centre 1</text>
    <circle :cx="C" :cy="C" r="28" class="stroke-ink stroke-1.5 fill-sheet" />
    <path
      d="M178 178 a17 17 0 0 1 24 0 l-1 -8 M202 178 l-8 1"
      class="turn fill-none stroke-ink stroke-1.8"
      :transform="anticlockwise ? `translate(${2 * C} 0) scale(-1 1)` : undefined"
    />
    <g v-if="syncShown !== null">
      <line v-bind="ends(syncShown, R - 8, R + 10)" class="sync stroke-data stroke-5" />
      <text
        :x="Math.min(330, Math.max(46, at(C, C, R + 16, on(syncShown))[0]))"
        :y="at(C, C, R + 14, on(syncShown))[1] + 14"
        text-anchor="middle"
        class="svg-text data fill-data"
      >
        cam {{ camSyncDeg?.toFixed(0) }}
      </text>
    </g>
    <g
      v-if="referenceDeg !== null"
      class="hand"
      role="slider"
      tabindex="0"
      aria-label="Reference pulse"
      :aria-valuenow="referenceDeg"
      aria-valuemin="0"
      aria-valuemax="120"
      :aria-valuetext="`pulse ${referenceDeg} degrees before top centre`"
      @pointerdown="grab('pulse', $event)"
      @keydown="key('pulse', $event)"
    >
      <line v-bind="ends(referenceDeg, 30, R + 8)" class="grab" />
      <line v-bind="ends(referenceDeg, 30, R + 8)" class="pulse fill-sheet stroke-ink stroke-3" />
      <text
        :x="at(C, C, R + 14, on(referenceDeg))[0]"
        :y="at(C, C, R + 14, on(referenceDeg))[1] + 4"
        :text-anchor="anchor"
        class="svg-text"
      >
        pulse {{ referenceDeg }}
      </text>
    </g>
    <g
      class="hand"
      role="slider"
      tabindex="0"
      aria-label="Spark advance"
      :aria-valuenow="advanceDeg"
      aria-valuemin="-10"
      aria-valuemax="60"
      :aria-valuetext="`spark ${advanceDeg} degrees before top centre`"
      @pointerdown="grab('spark', $event)"
      @keydown="key('spark', $event)"
    >
      <line v-bind="ends(advanceDeg, 30, R + 4)" class="grab" />
      <line v-bind="ends(advanceDeg, 30, R + 4)" class="spark stroke-stop stroke-4" />
      <circle v-if="sparking" :cx="ends(advanceDeg, 0, R - 4).x2" :cy="ends(advanceDeg, 0, R - 4).y2" r="13" class="fill-stop" />
      <text
        :x="at(C, C, R + 20, on(advanceDeg))[0] + (anticlockwise ? 10 : -10)"
        :y="at(C, C, R + 16, on(advanceDeg))[1]"
        text-anchor="end"
        class="svg-text stop fill-stop"
      >
        spark {{ advanceDeg }}
      </text>
    </g>
    <g
      class="hand"
      role="slider"
      tabindex="0"
      aria-label="Crank"
      :aria-valuenow="Math.round(crankDeg)"
      aria-valuemin="-360"
      aria-valuemax="360"
      :aria-valuetext="`number one ${Math.abs(Math.round(crankDeg))} degrees ${crankDeg < 0 ? 'after' : 'before'} its firing top centre`"
      @pointerdown="grab('crank', $event)"
      @keydown="key('crank', $event)"
    >
      <line :x1="C" :y1="C" :x2="pin[0]" :y2="pin[1]" class="stroke-soft stroke-2 stroke-dash-[3_5]" />
      <circle :cx="pin[0]" :cy="pin[1]" r="20" class="grab" fill="transparent" />
      <circle :cx="pin[0]" :cy="pin[1]" r="9" class="pin fill-sheet stroke-ink stroke-3" :class="{ pulsing }" />
    </g>
  </svg>
</template>

<style scoped>
.deg {
  font: 500 var(--t2) var(--head);
  fill: var(--soft);
}
.pulsing {
  fill: var(--ink);
}
.grab {
  stroke: transparent;
  stroke-width: 34;
}
.hand {
  cursor: grab;
  outline: none;
}
.hand:focus-visible .pin,
.hand:focus-visible .pulse,
.hand:focus-visible .spark {
  stroke: var(--data);
}
.svg-text {
  font-size: var(--t3);
}
</style>
