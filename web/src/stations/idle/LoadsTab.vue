<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, shallowRef, toRaw } from 'vue'
import { BACK_WITHIN_S, entryWords, FAN_DROP_RPM, GEAR_DROP_RPM, type Load, type LoadDrop, readingsOf } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import EntryStanding from '../../kit/EntryStanding.vue'
import { useSettings } from '../../stores/settings.ts'
import { useIdle } from './use-idle.ts'
import { useIdleWorker } from './use-idle-worker.ts'

/** What loads do to the idle: press as one comes on, and the drop is measured from the stream; or typed. */
const { builds, live, c, desk, streams } = useIdle()
const { hands, running, say } = desk
const { tasks } = useIdleWorker()
const settings = useSettings()
/** a brake at the bench's crank stands for pump, alternator and steering, Nm */
const BENCH_LOAD_NM = 6
const LOOK_S = 9
const loads: { load: Load; label: string }[] = [
  { load: 'gear', label: 'Into gear now' },
  { load: 'fan', label: 'Fan on now' },
  { load: 'steering', label: 'Full lock now' },
  { load: 'lights', label: 'Lights on now' },
]
const measuring = ref<Load | null>(null)
const drop = shallowRef<{ load: Load; seen: LoadDrop } | null>(null)
const problem = ref<string | null>(null)
async function measure(load: Load): Promise<void> {
  const atS = live.frame!.timeS
  drop.value = problem.value = null
  if (hands.value && !(await say(load === 'gear' ? 'gear' : 'load', load === 'gear' ? { inGear: true } : { brakeNm: BENCH_LOAD_NM })).ok)
    return
  measuring.value = load
  await live.passed(LOOK_S)
  measuring.value = null
  try {
    drop.value = { load, seen: await tasks().drop(toRaw(live.frames), atS) }
  } catch (e) {
    problem.value = (e as Error).message
  }
  if (hands.value) await say(load === 'gear' ? 'gear' : 'load', load === 'gear' ? { inGear: false } : { brakeNm: 0 })
}
function record(): void {
  const { load, seen } = drop.value!
  const tenth = (v: number) => Math.round(v * 10) / 10
  builds.record('idle.load', { load, dropRpm: Math.round(seen.dropRpm), backS: tenth(seen.backS ?? 60) })
}
const shown = computed(() => loads.filter(({ load }) => load !== 'gear' || c.value.resolved.automatic))
const noted = computed(() => readingsOf(builds.saved?.readings ?? [], 'idle.load'))
</script>

<template>
  <section class="pad">
    <p class="measure">
      Warm, in neutral, foot off. A load may take {{ FAN_DROP_RPM }} rpm, a gear {{ GEAR_DROP_RPM }} rpm, and the speed is back within
      {{ BACK_WITHIN_S }} s. Then have the idle judged with everything on, and in gear, under Trace.
    </p>
    <div v-if="streams && running" class="act">
      <n-button
        v-for="l in shown"
        :key="l.load"
        size="large"
        :disabled="measuring !== null"
        :data-testid="`load-${l.load}`"
        @click="measure(l.load)"
        >{{ l.label }}</n-button
      >
      <span v-if="measuring" role="status">looking for nine seconds …</span>
    </div>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
    <div v-if="drop" class="act">
      <strong class="head-t5">{{ drop.seen.dropRpm.toFixed(0) }} rpm</strong>
      <span
        >from {{ drop.seen.beforeRpm.toFixed(0) }} rpm,
        {{ drop.seen.backS === null ? 'not back within the look' : `back after ${drop.seen.backS.toFixed(1)} s` }} at
        {{ drop.seen.endRpm.toFixed(0) }} rpm</span
      >
      <n-button type="primary" data-testid="record-drop" @click="record">Put it on record</n-button>
    </div>
    <h2>Or typed from the display</h2>
    <entry-form kind="idle.load" />
    <ul v-if="noted.length" class="entries pl-4">
      <li v-for="r in noted" :key="r.id">{{ entryWords('idle.load', r.value, settings.units) }} <entry-standing :reading-id="r.id" /></li>
    </ul>
  </section>
</template>
