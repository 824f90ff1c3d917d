<script setup lang="ts">
import * as Comlink from 'comlink'
import { NButton } from 'naive-ui'
import { computed, ref, shallowRef, toRaw, watch } from 'vue'
import { type BuildData, type OutputCondition, outputSweep, TuneAnswer, tuneInCar } from '@vectum/core'
import { api } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'
import { useBenchWorker } from './use-bench-worker.ts'

/** An output tried: its channel led past both values and back, or what the bench car's drive shows of it; marked where it is on. */
const props = defineProps<{ when: OutputCondition }>()
const builds = useBuild()
const { tasks, cancel } = useBenchWorker()
const W = 260
const H = 60
const driven = shallowRef<{ timeS: number; value: number; on: boolean }[] | null>(null)
const switched = ref(0)
const share = ref<number | null>(null)
const problem = ref<string | null>(null)
const inCar = computed(() => tuneInCar(builds.current!))
watch(
  () => props.when,
  () => (driven.value = null),
)
const rows = computed(() => driven.value ?? outputSweep(props.when))
const range = computed(() => {
  const values = rows.value.map((r) => r.value)
  return { low: Math.min(...values), high: Math.max(...values), end: rows.value.at(-1)!.timeS }
})
const x = (timeS: number): number => (W * timeS) / range.value.end
const y = (value: number): number => 4 + (H - 8) * (1 - (value - range.value.low) / (range.value.high - range.value.low || 1))
const path = computed(() => rows.value.map((r, i) => `${i ? 'L' : 'M'}${x(r.timeS).toFixed(1)} ${y(r.value).toFixed(1)}`).join(''))
/** stretches in which it is on */
const on = computed(() => {
  const out: { from: number; to: number }[] = []
  rows.value.forEach((r, i) => {
    if (!r.on) return
    if (i && rows.value[i - 1].on) out[out.length - 1].to = r.timeS
    else out.push({ from: r.timeS, to: r.timeS })
  })
  return out
})
async function drive(): Promise<void> {
  problem.value = null
  share.value = 0
  try {
    const tune = await api(`/builds/${builds.current!.id}/tunes/${inCar.value!.id}`, TuneAnswer)
    const build = JSON.parse(JSON.stringify(builds.current!)) as BuildData
    const tried = await tasks().output(
      build,
      tune.document,
      toRaw(props.when),
      Comlink.proxy((s: number) => void (share.value = s)),
    )
    if ('refused' in tried) problem.value = tried.refused
    else {
      driven.value = tried.rows
      switched.value = tried.switched
    }
  } catch (e) {
    problem.value = (e as Error).message
  } finally {
    share.value = null
  }
}
function stop(): void {
  cancel()
  share.value = null
}
</script>

<template>
  <figure class="m-0">
    <svg
      class="w-260px"
      :viewBox="`0 0 ${W} ${H}`"
      role="img"
      :aria-label="on.length ? `on from ${on[0].from} to ${on.at(-1)!.to} s of the trial` : 'never on'"
      data-testid="output-trial"
    >
      <rect
        v-for="s in on"
        :key="s.from"
        :x="x(s.from)"
        y="0"
        :width="Math.max(1, x(s.to) - x(s.from))"
        :height="H"
        class="on fill-wash stroke-ink"
      />
      <path class="fill-none stroke-data stroke-2.5" :d="path" />
    </svg>
    <figcaption class="soft">
      <template v-if="share !== null">
        The bench car drives, {{ (100 * share).toFixed(0) }} % <n-button size="small" @click="stop">Stop it</n-button>
      </template>
      <template v-else-if="driven">
        Over a drive of the bench car it came on {{ switched }} {{ switched === 1 ? 'time' : 'times' }}
        <n-button size="small" @click="driven = null">Back to the sweep</n-button>
      </template>
      <template v-else-if="inCar">
        Led past both values and back.
        <n-button size="small" data-testid="output-drive" @click="drive">Try it on a drive of the bench car</n-button>
      </template>
      <template v-else>Led past both values and back; with a base tune the bench car drives it too.</template>
      <span v-if="problem" class="stop" role="alert">{{ problem }}</span>
    </figcaption>
  </figure>
</template>
