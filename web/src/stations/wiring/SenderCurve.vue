<script setup lang="ts">
import { computed } from 'vue'
import { type Sender, senderCurve } from '@vectum/core'

/** A sender's curve through its calibration points, and how far it may be off between them. */
const props = defineProps<{ sender: Sender }>()
const curve = computed(() => senderCurve(props.sender))
const W = 300
const H = 110
const axes = computed(() => {
  const s = props.sender.points.map((p) => p.signal)
  const v = props.sender.points.map((p) => p.value)
  const [s0, s1, v0, v1] = [Math.min(...s), Math.max(...s), Math.min(...v), Math.max(...v)]
  return {
    s0,
    s1,
    x: (signal: number) => 30 + (W * (signal - s0)) / (s1 - s0 || 1),
    y: (value: number) => 10 + H * (1 - (value - v0) / (v1 - v0 || 1)),
  }
})
const path = computed(() => {
  const { s0, s1, x, y } = axes.value
  return Array.from({ length: 61 }, (_, i) => s0 + ((s1 - s0) * i) / 60)
    .map((s, i) => `${i ? 'L' : 'M'}${x(s).toFixed(1)} ${y(curve.value.at(s)).toFixed(1)}`)
    .join('')
})
const words = { thermistor: 'by the law of a thermistor', line: 'by straight pieces' }
</script>

<template>
  <figure class="m-0">
    <svg class="w-340px" viewBox="0 0 360 130" role="img" :aria-label="`Curve of ${sender.name}`">
      <path :d="path" class="curve fill-none stroke-data stroke-3" />
      <circle v-for="p in sender.points" :key="p.signal" class="fill-ink" :cx="axes.x(p.signal)" :cy="axes.y(p.value)" r="5">
        <title>{{ p.signal }}: {{ p.value }}</title>
      </circle>
    </svg>
    <figcaption>
      <strong>{{ sender.name }}</strong>, {{ sender.unit }} over {{ sender.signal === 'ohm' ? 'ohm' : 'volts' }}, {{ words[curve.kind] }};
      within {{ (100 * curve.worstShare).toFixed(1) }} % of its range
    </figcaption>
  </figure>
</template>
