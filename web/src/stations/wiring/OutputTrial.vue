<script setup lang="ts">
import { computed } from 'vue'
import { type OutputCondition, outputSweep } from '@vectum/core'

/** An output tried: its channel led past both values and back, dark where it is on. */
const props = defineProps<{ when: OutputCondition }>()
const W = 260
const H = 60
const rows = computed(() => outputSweep(props.when))
const range = computed(() => {
  const values = rows.value.map((r) => r.value)
  return { low: Math.min(...values), high: Math.max(...values), end: rows.value.at(-1)!.timeS }
})
const x = (timeS: number): number => (W * timeS) / range.value.end
const y = (value: number): number => 4 + (H - 8) * (1 - (value - range.value.low) / (range.value.high - range.value.low))
const path = computed(() => rows.value.map((r, i) => `${i ? 'L' : 'M'}${x(r.timeS).toFixed(1)} ${y(r.value).toFixed(1)}`).join(''))
const on = computed(() => rows.value.filter((r) => r.on))
</script>

<template>
  <svg
    :viewBox="`0 0 ${W} ${H}`"
    role="img"
    :aria-label="on.length ? `on from ${on[0].timeS} to ${on.at(-1)!.timeS} s of the trial` : 'never on'"
    data-testid="output-trial"
  >
    <rect v-if="on.length" :x="x(on[0].timeS)" y="0" :width="x(on.at(-1)!.timeS) - x(on[0].timeS)" :height="H" class="on" />
    <path :d="path" />
  </svg>
</template>

<style scoped>
svg {
  width: 260px;
}
.on {
  fill: var(--wash);
  stroke: var(--ink);
}
path {
  fill: none;
  stroke: var(--data);
  stroke-width: 2.5;
}
</style>
