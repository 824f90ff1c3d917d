<script setup lang="ts">
import { computed } from 'vue'
import { CONVERGED_RMS_PCT, CONVERGED_TIME_PCT, learnedOverDrives, learnsItself, readingsOf } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'

/**
 * How learning came to rest. Where the unit learns by itself: what was left, and how far what it holds moved, drive after drive on the tune now in the
 * car. Where tables are corrected: the error left, log after log over the versions.
 */
const builds = useBuild()
const itself = computed(() => learnsItself(builds.context!))
const drives = computed(() =>
  itself.value
    ? learnedOverDrives(builds.context!).filter((r) => r.value.remainderRmsPct != null)
    : readingsOf(builds.context!.readings, 'learn.result').filter((r) => r.value.errorRmsPct !== null && r.value.suspect === undefined),
)
const version = (tuneId: string | null): string => String(builds.current?.tunes.find((t) => t.id === tuneId)?.number ?? '?')
const under = (i: number): string => (itself.value ? drives.value[i].takenAt.slice(5, 10) : `v ${version(drives.value[i].value.tuneId)}`)
const there = (i: number): boolean => {
  const { settled, provenTimePct, errorRmsPct } = drives.value[i].value
  return itself.value ? settled === true : (provenTimePct ?? 0) >= CONVERGED_TIME_PCT && (errorRmsPct ?? Infinity) <= CONVERGED_RMS_PCT
}
const W = 640
const H = 150
const [LEFT, TOP, FOOT] = [44, 12, 26]
const highest = computed(() => Math.max(4, ...drives.value.flatMap((_, i) => [left(i) ?? 0, moved(i) ?? 0])))
const x = (i: number): number => LEFT + (drives.value.length < 2 ? 0.5 : i / (drives.value.length - 1)) * (W - LEFT - 90)
const y = (pct: number): number => TOP + (1 - pct / highest.value) * (H - TOP - FOOT)
const line = (of: (i: number) => number | null | undefined): string =>
  drives.value.flatMap((_, i) => (of(i) == null ? [] : [`${x(i)},${y(of(i)!)}`])).join(' ')
const left = (i: number) => (itself.value ? drives.value[i].value.remainderRmsPct : drives.value[i].value.errorRmsPct)
const moved = (i: number) => (itself.value ? drives.value[i].value.movedRmsPct : null)
const last = computed(() => drives.value.length - 1)
</script>

<template>
  <figure v-if="drives.length > (itself ? 0 : 1)" data-testid="drives-line">
    <svg
      class="w-full max-w-760px"
      :viewBox="`0 0 ${W} ${H}`"
      role="img"
      :aria-label="`${drives.length} drives: ${left(last)?.toFixed(1)} % rms left after the last`"
    >
      <line :x1="LEFT" :x2="W - 90" :y1="y(CONVERGED_RMS_PCT)" :y2="y(CONVERGED_RMS_PCT)" class="stroke-clear stroke-1.5" />
      <text :x="LEFT - 6" :y="y(CONVERGED_RMS_PCT) + 5" text-anchor="end">{{ CONVERGED_RMS_PCT }} %</text>
      <text :x="LEFT - 6" :y="y(0) + 5" text-anchor="end">0</text>
      <polyline :points="line(left)" class="left fill-none stroke-ink stroke-2.5" />
      <polyline :points="line(moved)" class="moved fill-none stroke-ink stroke-2.5" />
      <g v-for="(d, i) in drives" :key="d.id">
        <circle class="stroke-ink stroke-2" :cx="x(i)" :cy="y(left(i) ?? 0)" r="5" :class="there(i) ? 'ok' : 'not'" />
        <text :x="x(i)" :y="H - 6" text-anchor="middle">{{ under(i) }}</text>
      </g>
      <text :x="x(last) + 12" :y="y(left(last) ?? 0) + 5" class="svg-text">left {{ left(last)?.toFixed(1) }} %</text>
      <text
        v-if="moved(last) != null"
        :x="x(last) + 12"
        :y="y(moved(last) ?? 0) + (Math.abs(y(moved(last) ?? 0) - y(left(last) ?? 0)) < 16 ? 21 : 5)"
      >
        moved {{ moved(last)?.toFixed(1) }} %
      </text>
    </svg>
    <figcaption>
      <template v-if="itself"
        >Left beyond what it has learned, and moved since the visit before, rms by drive; a filled dot: settled. Under
        {{ CONVERGED_RMS_PCT }} % is wanted.</template
      ><template v-else
        >Error left in the table, rms, log by log with the version it was driven on; a filled dot: {{ CONVERGED_TIME_PCT }} % of the driving
        proven and under {{ CONVERGED_RMS_PCT }} %.</template
      >
    </figcaption>
  </figure>
</template>

<style scoped>
.moved {
  stroke: var(--soft);
  stroke-dasharray: 6 4;
}
.ok {
  fill: var(--clear);
}
.not {
  fill: var(--sheet);
}
</style>
