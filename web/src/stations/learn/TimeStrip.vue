<script setup lang="ts">
import { computed } from 'vue'
import type { StretchFate } from '@vectum/core'

/** A log from end to end: lowest and highest in each slice, so nothing short is lost; under it which stretches were used, and why the others were not. */
const props = defineProps<{
  slots: { low: number; high: number }[]
  fates?: readonly StretchFate[]
  durationS: number
  label: string
}>()
const fateWords: Record<StretchFate, string> = {
  used: 'used',
  cold: 'too cold, or just started',
  moving: 'not steady',
  cut: 'fuel cut',
  other: 'cranking, a gap, or out of range',
}
/** stretches of one fate, in slices */
const stretches = computed(() => {
  const list: { fate: StretchFate; from: number; to: number }[] = []
  props.fates?.forEach((fate, k) => {
    const last = list.at(-1)
    if (last?.fate === fate) last.to = k + 1
    else list.push({ fate, from: k, to: k + 1 })
  })
  return list
})
const seen = computed(() => (Object.keys(fateWords) as StretchFate[]).filter((fate) => props.fates?.includes(fate)))
const at = (k: number): number => (k / props.slots.length) * W
const W = 720
const H = 64
const LANE = 12
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
    <svg :viewBox="`0 0 ${W} ${fates ? H + LANE : H}`" preserveAspectRatio="none" role="img" :aria-label="`${label} over the whole log`">
      <path :d="path" vector-effect="non-scaling-stroke" />
      <rect v-for="s in stretches" :key="s.from" :x="at(s.from)" :width="at(s.to) - at(s.from)" :y="H" :height="LANE" :class="s.fate" />
    </svg>
    <p v-if="seen.length" class="soft key" data-testid="fates">
      <template v-for="fate in seen" :key="fate"><span :class="fate"></span>{{ fateWords[fate] }}</template>
    </p>
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
  height: 72px;
}
.key {
  grid-column: 2;
  margin: 2px 0 0;
  font-size: var(--t1);
}
.key span {
  display: inline-block;
  width: 15px;
  height: 10px;
  margin: 0 var(--s1) 0 var(--s3);
}
.key span:first-child {
  margin-left: 0;
}
.used {
  fill: var(--clear);
  background: var(--clear);
}
.cold {
  fill: var(--data);
  background: var(--data);
}
.moving {
  fill: var(--hair);
  background: var(--hair);
}
.cut {
  fill: var(--ink);
  background: var(--ink);
}
.other {
  fill: var(--warn);
  background: var(--warn);
}
path {
  stroke: var(--data);
  stroke-width: 1.4;
  fill: none;
}
</style>
