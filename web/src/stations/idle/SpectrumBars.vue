<script setup lang="ts">
import { computed } from 'vue'
import type { SpeedSpectrum } from '@vectum/core'

/** How far the speed swings at each period, in bars; the one that stands out is named. */
const props = defineProps<{ spectrum: SpeedSpectrum; periodS: number | null; amplitudeRpm: number | null }>()
const W = 720
const H = 90
const LEAST_RPM = 30
const top = computed(() => Math.max(LEAST_RPM, ...props.spectrum.amplitudeRpm))
const last = computed(() => props.spectrum.frequencyHz.at(-1) ?? 3)
const bars = computed(() =>
  props.spectrum.frequencyHz.map((hz, i) => ({
    x: (hz / (last.value + 0.1)) * W,
    height: (props.spectrum.amplitudeRpm[i] / top.value) * (H - 8),
    out: props.periodS !== null && Math.abs(hz * props.periodS - 1) < 0.12,
  })),
)
const ticks = [5, 2, 1, 0.5]
</script>

<template>
  <figure v-if="bars.length" class="mx-0 mt-2 mb-0">
    <figcaption class="head">
      Swing by period
      <small class="soft"
        >up to {{ top.toFixed(0) }} rpm<template v-if="periodS"
          >; {{ periodS.toFixed(1) }} s stands out, ±{{ amplitudeRpm?.toFixed(0) }} rpm</template
        ></small
      >
    </figcaption>
    <svg class="w-full max-h-120px block" :viewBox="`0 0 ${W} ${H + 20}`" role="img" aria-label="Spectrum of the speed">
      <rect
        v-for="b in bars"
        :key="b.x"
        class="fill-soft"
        :x="b.x"
        :y="H - b.height"
        width="14"
        :height="b.height"
        :class="{ out: b.out }"
      />
      <text v-for="t in ticks" :key="t" :x="(1 / t / (last + 0.1)) * W" :y="H + 17">{{ t }} s</text>
    </svg>
  </figure>
</template>

<style scoped>
.out {
  fill: var(--data);
}
text {
  font: var(--t1) var(--text);
  fill: var(--ink);
}
</style>
