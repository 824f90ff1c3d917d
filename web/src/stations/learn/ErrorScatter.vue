<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { channelDimension, channelSpecs, type Scatter, scatterOver, type ScatterOver } from '@vectum/core'
import OptionRow from '../../quantity/OptionRow.vue'
import { useSettings } from '../../stores/settings.ts'
import type { Solved } from './use-learning.ts'
import { signed } from './cell-words.ts'

/** What was wanted over pulse, speed, load or temperature, row by row: an error that goes with one of these is no table's. */
const props = defineProps<{ solved: Pick<Solved, 'logId' | 'scatter' | 'channels'> }>()
const settings = useSettings()
const shown = (v: number): string => settings.format(v, channelDimension[over.value])
const options = computed(() =>
  scatterOver.filter((id) => props.solved.channels.includes(id)).map((id) => ({ value: id, label: channelSpecs[id].label })),
)
const over = ref<ScatterOver>(options.value[0]?.value ?? 'rpm')
const read = shallowRef<Scatter | null>(null)
watch(
  [over, () => props.solved.logId],
  async () => {
    const wanted = over.value
    const answer = await props.solved.scatter(wanted)
    // another was asked for meanwhile
    if (wanted === over.value) read.value = answer
  },
  { immediate: true },
)
const W = 720
const H = 240
const LEFT = 64
const FOOT = 34
const LEAST_PCT = 5
/** of all points so many lie inside: a few wild ones do not press the rest flat */
const INSIDE = 0.98
const frame = computed(() => {
  const points = read.value?.points ?? []
  const sorted = (of: (p: (typeof points)[number]) => number) => points.map(of).sort((a, b) => a - b)
  const xs = sorted((p) => p.x)
  const off = sorted((p) => Math.abs(p.errorPct))
  return {
    low: xs[0] ?? 0,
    high: Math.max(xs.at(-1) ?? 1, (xs[0] ?? 0) + 1e-6),
    most: Math.max(LEAST_PCT, off[Math.floor(INSIDE * (off.length - 1))] ?? 0),
  }
})
const x = (v: number): number => LEFT + ((v - frame.value.low) / (frame.value.high - frame.value.low)) * (W - LEFT - 12)
const y = (pct: number): number => {
  const { most } = frame.value
  return (H - FOOT) / 2 - (Math.max(-most, Math.min(most, pct)) / most) * ((H - FOOT) / 2 - 12)
}
const line = computed(() =>
  (read.value?.means ?? []).map((m, i) => `${i ? 'L' : 'M'}${x(m.x).toFixed(1)} ${y(m.errorPct).toFixed(1)}`).join(''),
)
const ends = computed(() => (read.value ? ([read.value.means[0], read.value.means.at(-1)!] as const) : null))
</script>

<template>
  <details data-testid="scatter">
    <summary><strong class="head">Row by row</strong>what was wanted over pulse, speed, load and temperature</summary>
    <option-row v-model="over" :options="options" label="Over" firm />
    <figure v-if="read && ends">
      <svg
        class="w-full"
        :viewBox="`0 0 ${W} ${H}`"
        role="img"
        :aria-label="`Fuel still to be added over ${channelSpecs[over].label}, ${read.points.length} rows`"
      >
        <line :x1="LEFT" :x2="W" :y1="y(0)" :y2="y(0)" class="pen-axis" />
        <text v-for="s in [1, 0, -1]" :key="s" :x="LEFT - 8" :y="y(s * frame.most) + 6" text-anchor="end">
          {{ s > 0 ? '+' : '' }}{{ (s * frame.most).toFixed(0) }} %
        </text>
        <circle v-for="(p, k) in read.points" :key="k" class="fill-soft" :cx="x(p.x)" :cy="y(p.errorPct)" r="2" />
        <path :d="line" class="pen" />
        <text :x="LEFT" :y="H - 6">{{ shown(frame.low) }}</text>
        <text :x="W - 12" :y="H - 6" text-anchor="end">{{ shown(frame.high) }}</text>
      </svg>
      <figcaption>
        On the mean {{ signed(ends[0].errorPct) }} % at {{ shown(ends[0].x) }}, {{ signed(ends[1].errorPct) }} % at {{ shown(ends[1].x) }}.
      </figcaption>
    </figure>
    <p v-else class="soft">No row of this log was used.</p>
  </details>
</template>
