<script setup lang="ts">
import { computed } from 'vue'
import { type AirBalance, plateEndsMm2 } from '@vectum/core'

/**
 * Where the air of the idle comes from, as one bar against what the warm engine wants at its target: leak, plate and valve, each as wide as the hole
 * that would pass as much.
 */
const props = defineProps<{ air: AirBalance; bandPct: readonly [number, number] }>()
const W = 720
const H = 118
const TOP = 34
const BAR = 44
const span = computed(() => 1.25 * Math.max(props.air.totalMm2, props.air.neededMm2))
const x = (mm2: number): number => (mm2 / span.value) * W
const parts = computed(() => {
  const { leakMm2, plateMm2, valveMm2, totalMm2 } = props.air
  if (valveMm2 === null || plateMm2 === null) return [{ id: 'all', label: 'not parted yet', mm2: totalMm2 }]
  return [
    ...(leakMm2 === null ? [] : [{ id: 'leak', label: 'leak', mm2: leakMm2 }]),
    { id: 'plate', label: leakMm2 === null ? 'plate and leak' : 'plate', mm2: plateMm2 },
    { id: 'valve', label: 'valve', mm2: valveMm2 },
  ]
})
const placed = computed(() => {
  let at = 0
  return parts.value.map((part) => {
    const from = at
    at += part.mm2
    return { ...part, x: x(from), width: Math.max(0, x(part.mm2)) }
  })
})
/** where the plate's share would end with the valve in its band */
const band = computed(() => plateEndsMm2(props.air, props.bandPct)?.map(x) ?? null)
const words = computed(() => parts.value.map((p) => `${p.label} ${p.mm2.toFixed(1)}`).join(', '))
const over = computed(() => props.air.totalMm2 - props.air.neededMm2)
</script>

<template>
  <figure class="air" data-testid="air-bar">
    <svg
      class="w-full block"
      :viewBox="`0 0 ${W} ${H}`"
      role="img"
      :aria-label="`Idle air: ${words} mm²; wanted ${air.neededMm2.toFixed(1)} mm²`"
    >
      <defs>
        <pattern id="leak-hatch" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="7" height="7" class="leak-ground" />
          <line x1="0" y1="0" x2="0" y2="7" class="leak-line" />
        </pattern>
      </defs>
      <g v-for="p in placed" :key="p.id">
        <rect :x="p.x" :y="TOP" :width="p.width" :height="BAR" :class="p.id" :fill="p.id === 'leak' ? 'url(#leak-hatch)' : undefined" />
        <text v-if="p.width > 60" :x="p.x + 8" :y="TOP + 20" :class="['on', p.id]">{{ p.label }}</text>
        <text v-if="p.width > 60" :x="p.x + 8" :y="TOP + 37" :class="['on', p.id]">{{ p.mm2.toFixed(1) }}</text>
        <text v-else-if="p.width > 0" :x="p.x + p.width / 2" :y="TOP - 6" class="over" text-anchor="middle">
          {{ p.label }} {{ p.mm2.toFixed(1) }}
        </text>
      </g>
      <g v-if="band">
        <rect :x="band[0]" :y="TOP + BAR + 3" :width="Math.max(2, band[1] - band[0])" height="7" class="band" />
        <text :x="band[0] - 6" :y="TOP + BAR + 12" class="small" text-anchor="end">plate should end here</text>
      </g>
      <line :x1="x(air.neededMm2)" :x2="x(air.neededMm2)" :y1="TOP - 14" :y2="TOP + BAR + 24" class="needed" />
      <text :x="x(air.neededMm2) + 6" :y="TOP + BAR + 24" class="small strong">wanted {{ air.neededMm2.toFixed(1) }} mm²</text>
    </svg>
    <figcaption>
      {{ air.totalMm2.toFixed(1) }} mm² come in<template v-if="Math.abs(over) > 0.3"
        >, <strong>{{ Math.abs(over).toFixed(1) }} {{ over > 0 ? 'too much' : 'too little' }}</strong></template
      >.
      <span v-if="air.valveMm2PerPct">{{ ' ' }}1 % of valve passes {{ air.valveMm2PerPct.toFixed(2) }} mm².</span>
      <span v-if="air.screwMm2PerTurn"> One turn of the screw passes {{ air.screwMm2PerTurn.toFixed(1) }} mm².</span>
      <strong v-if="air.wants">{{ ' ' + air.wants }}</strong>
    </figcaption>
  </figure>
</template>

<style scoped>
.air {
  margin: var(--s2) 0;
  max-width: 900px;
}
.plate {
  fill: var(--soft);
}
.valve {
  fill: var(--data);
}
rect.all {
  fill: var(--wash);
  stroke: var(--soft);
}
.leak-ground {
  fill: var(--sheet);
}
.leak-line {
  stroke: var(--stop);
  stroke-width: 4;
}
text {
  font: 600 var(--t2) var(--head);
  fill: var(--ink);
}
.on.plate,
.on.valve {
  fill: var(--onInk);
}
.on.leak {
  paint-order: stroke;
  stroke: var(--sheet);
  stroke-width: 5px;
}
.needed {
  stroke: var(--ink);
  stroke-width: 3;
}
.band {
  fill: var(--clear);
}
.small {
  font-size: var(--t1);
}
</style>
