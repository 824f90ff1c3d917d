<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { line } from 'd3-shape'
import { computed } from 'vue'
import { displayUnit, fuelStates, toDisplay, type FuelStateId, type PumpChart } from '@vectum/core'
import { useSettings } from '../../stores/settings.ts'

/** What the pump gives against what the circuit asks for, with the point at which each state works. */
const props = defineProps<{ chart: PumpChart; state: FuelStateId }>()
const settings = useSettings()
const W = 420
const H = 260
const flowUnit = computed(() => displayUnit('pumpFlow', settings.units))
const riseUnit = computed(() => displayUnit('pressure', settings.units))
const x = computed(() => scaleLinear([0, toDisplay(props.chart.flowMaxLph, flowUnit.value) * 1.05], [48, W - 10]))
const y = computed(() => scaleLinear([0, toDisplay(props.chart.riseMaxKpa, riseUnit.value) * 1.05], [H - 34, 8]))
const px = (lph: number) => x.value(toDisplay(lph, flowUnit.value))
const py = (kpa: number) => y.value(toDisplay(kpa, riseUnit.value))
const path = line<{ flowLph: number; riseKpa: number }>(
  (p) => px(p.flowLph),
  (p) => py(Math.max(0, Math.min(p.riseKpa, props.chart.riseMaxKpa * 1.04))),
)
const here = computed(() => props.chart.working.find((w) => w.state === props.state)!)
const title = (id: FuelStateId) => fuelStates.find((s) => s.id === id)!.title
const hereCurve = computed(() => props.chart.curves.find((c) => c.state === props.state)!)
</script>

<template>
  <figure>
    <svg
      class="w-full"
      :viewBox="`0 0 ${W} ${H}`"
      role="img"
      :aria-label="`Pump curve and demand. ${title(state)} works at ${settings.format(here.flowLph, 'pumpFlow')} and ${settings.format(here.riseKpa, 'pressure')}.`"
    >
      <g v-for="t in x.ticks(5)" :key="`x${t}`">
        <path :d="`M${x(t)} 8V${H - 34}`" class="gridline" />
        <text :x="x(t)" :y="H - 18" text-anchor="middle">{{ t }}</text>
      </g>
      <g v-for="t in y.ticks(5)" :key="`y${t}`">
        <path :d="`M48 ${y(t)}H${W - 10}`" class="gridline" />
        <text x="42" :y="y(t) + 5" text-anchor="end">{{ t }}</text>
      </g>
      <text :x="W - 10" :y="H - 3" text-anchor="end">flow, {{ flowUnit.id }}</text>
      <text :x="W - 10" y="20" text-anchor="end">rise, {{ riseUnit.id }}</text>
      <path v-for="c in chart.curves" :key="c.state" :d="path(c.points)!" class="curve" :class="{ on: c.state === state }" />
      <path :d="path(chart.demand)!" class="demand" />
      <path :d="`M${px(here.useLph)} ${H - 34}V${py(here.riseKpa)}`" class="use" />
      <g v-for="w in chart.working" :key="w.state" :transform="`translate(${px(w.flowLph)} ${py(w.riseKpa)})`">
        <circle class="fill-soft" :r="w.state === state ? 8 : 4.5" :class="{ on: w.state === state }" />
      </g>
    </svg>
    <figcaption>
      Line: the pump at {{ settings.format(hereCurve.pumpV, 'voltage', 1) }}. Dashes: what the circuit asks for. Ring: where
      {{ title(state).toLowerCase() }} works. Thin upright: what the engine takes.
    </figcaption>
  </figure>
</template>

<style scoped>
.gridline {
  stroke: var(--hair);
  opacity: 0.6;
}
.curve {
  fill: none;
  stroke: var(--soft);
  opacity: 0.45;
}
.curve.on {
  stroke: var(--data);
  stroke-width: 3;
  opacity: 1;
}
.demand {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
  stroke-dasharray: 7 5;
}
.use {
  stroke: var(--ink);
  stroke-width: 1.2;
}
circle.on {
  fill: var(--sheet);
  stroke: var(--data);
  stroke-width: 4;
}
</style>
