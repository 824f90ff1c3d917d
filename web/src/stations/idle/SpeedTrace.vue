<script setup lang="ts">
import { computed } from 'vue'

/** The speed over the last of the stream or of a try, against its target: a strip of its own scale, so that a swing of 25 rpm is seen. */
const props = defineProps<{ timeS: readonly number[]; rpm: readonly number[]; targetRpm: number | null; label: string }>()
const W = 720
const H = 130
const LEAST_SPAN_RPM = 160
const scale = computed(() => {
  const told = props.rpm.filter((v) => Number.isFinite(v))
  const middle = props.targetRpm ?? (told.length ? told.reduce((s, v) => s + v, 0) / told.length : 800)
  const half = Math.max(LEAST_SPAN_RPM / 2, ...told.map((v) => Math.abs(v - middle)))
  return { low: middle - 1.05 * half, high: middle + 1.05 * half }
})
const span = computed(() => Math.max(1, (props.timeS.at(-1) ?? 1) - (props.timeS[0] ?? 0)))
const y = (v: number): number => H - ((v - scale.value.low) / (scale.value.high - scale.value.low)) * H
const path = computed(() => {
  const from = props.timeS[0] ?? 0
  return props.rpm.map((v, i) => `${i ? 'L' : 'M'}${(((props.timeS[i] - from) / span.value) * W).toFixed(1)} ${y(v).toFixed(1)}`).join('')
})
</script>

<template>
  <figure class="m-0 line-t-hair line-b-hair">
    <figcaption class="head">
      {{ label }} <small class="soft">{{ scale.low.toFixed(0) }} to {{ scale.high.toFixed(0) }} rpm, {{ span.toFixed(0) }} s</small>
    </figcaption>
    <svg
      class="w-full h-110px block"
      :viewBox="`0 0 ${W} ${H}`"
      preserveAspectRatio="none"
      role="img"
      :aria-label="`${label}: speed over ${span.toFixed(0)} s`"
    >
      <line
        v-if="targetRpm"
        class="stroke-soft stroke-dash-[6_5]"
        x1="0"
        :x2="W"
        :y1="y(targetRpm)"
        :y2="y(targetRpm)"
        vector-effect="non-scaling-stroke"
      />
      <path class="fill-none stroke-data stroke-1.6" :d="path" vector-effect="non-scaling-stroke" />
    </svg>
  </figure>
</template>
