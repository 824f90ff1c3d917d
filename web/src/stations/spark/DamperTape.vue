<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import type { TapeTick } from '@vectum/core'

/** A paper tape for the damper at true size, with a bar to measure before it is trusted. */
const props = defineProps<{ ticks: TapeTick[]; barMm: number; referenceDeg: number | null; anticlockwise?: boolean }>()
const width = computed(() => props.ticks[props.ticks.length - 1].mm + 20)
/** before top centre runs to the right on a crank that turns clockwise, seen from the front; to the left on the other */
const place = (mm: number): number => (props.anticlockwise ? width.value - 10 - mm : mm + 10)
const height = { ten: 11, five: 8, one: 5 } as const
function save(): void {
  const svg = document.getElementById('timing-tape')!.cloneNode(true) as SVGElement
  svg.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  const style = 'text{font:3.4px sans-serif}path{stroke:#000;stroke-width:.25;fill:none}.ref{stroke-width:.7}'
  svg.insertAdjacentHTML('afterbegin', `<style>${style}</style>`)
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([svg.outerHTML], { type: 'image/svg+xml' }))
  link.download = 'timing-tape.svg'
  link.click()
  URL.revokeObjectURL(link.href)
}
</script>

<template>
  <section class="tape mt-4" aria-label="Timing tape">
    <div class="head-row">
      <h2>Timing tape, true size</h2>
      <n-button size="small" @click="save">SVG out</n-button>
    </div>
    <p class="soft">
      Print without scaling. Measure the bar: if it is not {{ barMm }} mm, the tape is wrong. Zero goes on the proven zero mark.
    </p>
    <div class="paper">
      <svg
        id="timing-tape"
        :width="`${width}mm`"
        height="34mm"
        :viewBox="`0 0 ${width} 34`"
        role="img"
        :aria-label="`Tape from ${ticks[0].deg} to ${ticks[ticks.length - 1].deg} degrees before top centre`"
      >
        <path :d="`M10 2H${ticks[ticks.length - 1].mm + 10}`" />
        <g v-for="t in ticks" :key="t.deg">
          <path :d="`M${place(t.mm).toFixed(3)} 2v${height[t.kind]}`" :class="{ ref: t.deg === 0 || t.deg === referenceDeg }" />
          <text v-if="t.kind === 'ten'" :x="place(t.mm)" y="17.5" text-anchor="middle">{{ t.deg }}</text>
        </g>
        <text v-if="referenceDeg !== null" x="10" y="22.5">thick: 0 and the reference, {{ referenceDeg }}° BTDC</text>
        <path :d="`M10 28v3h${barMm}v-3`" />
        <text :x="10 + barMm / 2" y="29.5" text-anchor="middle">{{ barMm }} mm</text>
      </svg>
    </div>
  </section>
</template>

<style scoped>
.paper {
  overflow-x: auto;
  background: #fff;
  border: 1px solid var(--hair);
}
path {
  stroke: #000;
  stroke-width: 0.25;
  fill: none;
}
.ref {
  stroke-width: 0.7;
}
text {
  font: var(--t1) var(--text);
  fill: #000;
}
</style>
