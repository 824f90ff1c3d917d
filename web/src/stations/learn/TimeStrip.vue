<script setup lang="ts">
import { computed } from 'vue'

/** A log from end to end: lowest and highest in each slice, so nothing short is lost. */
const props = defineProps<{ slots: { low: number; high: number }[]; durationS: number; label: string }>()
const W = 720
const H = 64
const range = computed(() => {
  const seen = props.slots.filter((s) => s.high >= s.low)
  return { low: Math.min(...seen.map((s) => s.low)), high: Math.max(...seen.map((s) => s.high)) }
})
const path = computed(() => {
  const { low, high } = range.value
  const y = (v: number) => (H - 4 - ((v - low) / Math.max(1e-9, high - low)) * (H - 8)).toFixed(1)
  return props.slots
    .map((s, k) =>
      s.high >= s.low
        ? `M${((k / props.slots.length) * W).toFixed(1)} ${y(s.low)}V${y(s.high + (s.high - s.low < (high - low) / 80 ? (high - low) / 80 : 0))}`
        : '',
    )
    .join('')
})
</script>

<template>
  <figure>
    <figcaption>
      <strong class="head">{{ label }}</strong><small class="soft"
        >{{ range.low.toFixed(0) }} to {{ range.high.toFixed(0) }}, {{ (durationS / 60).toFixed(0) }} min</small
      >
    </figcaption>
    <svg :viewBox="`0 0 ${W} ${H}`" preserveAspectRatio="none" role="img" :aria-label="`${label} over the whole log`">
      <path :d="path" vector-effect="non-scaling-stroke" />
    </svg>
  </figure>
</template>

<style scoped>
figure {
  display: grid;
  grid-template-columns: 110px 1fr;
  margin: 0;
  align-items: center;
  border-top: 1px solid var(--hair);
}
small {
  display: block;
}
svg {
  width: 100%;
  height: 60px;
}
path {
  stroke: var(--data);
  stroke-width: 1.4;
  fill: none;
}
</style>
