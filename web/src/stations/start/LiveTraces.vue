<script setup lang="ts">
import { computed } from 'vue'
import type { Frame } from '@vectum/core'

/** The last half minute of the stream, one strip for each trace, sharing one time axis. */
const props = defineProps<{ frames: Frame[]; seconds: number }>()
const W = 720
const H = 58
const strips = [
  { key: 'rpm', label: 'rpm', min: 0, max: 3000, decimals: 0 },
  { key: 'mapKpa', label: 'MAP kPa', min: 20, max: 105, decimals: 0 },
  { key: 'lambda', label: 'lambda', min: 0.7, max: 1.3, decimals: 2 },
] as const
const shown = computed(() => {
  const last = props.frames.at(-1)
  if (!last) return []
  const from = last.timeS - props.seconds
  let start = props.frames.length - 1
  while (start > 0 && props.frames[start - 1].timeS >= from && props.frames[start - 1].timeS <= props.frames[start].timeS) start--
  return props.frames.slice(start)
})
const paths = computed(() => {
  const last = shown.value.at(-1)
  if (!last) return []
  const every = Math.max(1, Math.floor(shown.value.length / W))
  return strips.map((s) => {
    let d = ''
    let pen = false
    shown.value.forEach((f, k) => {
      if (k % every) return
      const v = f[s.key]
      if (v === null) {
        pen = false
        return
      }
      const x = W - ((last.timeS - f.timeS) / props.seconds) * W
      const y = H - 3 - ((Math.min(s.max, Math.max(s.min, v)) - s.min) / (s.max - s.min)) * (H - 6)
      d += `${pen ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`
      pen = true
    })
    return { ...s, d }
  })
})
</script>

<template>
  <div class="traces" role="img" :aria-label="`Traces of the last ${seconds} seconds`">
    <div v-for="p in paths" :key="p.key" class="strip grid grid-cols-[76px_1fr] line-t-hair items-center">
      <span class="head">{{ p.label }}<small class="soft">{{ p.min }} to {{ p.max }}</small></span>
      <svg class="w-full h-52px block" :viewBox="`0 0 ${W} ${H}`" preserveAspectRatio="none">
        <path class="fill-none stroke-data stroke-1.6" :d="p.d" vector-effect="non-scaling-stroke" />
      </svg>
    </div>
  </div>
</template>

<style scoped>
.head small {
  display: block;
  font: var(--t1) var(--text);
}
</style>
