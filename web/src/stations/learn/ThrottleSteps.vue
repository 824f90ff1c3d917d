<script setup lang="ts">
import { NButton, useMessage } from 'naive-ui'
import { computed } from 'vue'
import { applySteps, catchesSaid, LEAST_STEPS, type StepsJudged, type TuneDocument } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import ColdSteps from './ColdSteps.vue'
import type { Solved } from './use-learning.ts'
import { useJudged } from './use-judged.ts'
import { useNewVersion } from './use-new-version.ts'

/** What the fuel for an opening throttle does: missing or too much over each step of a still foot, and a version with as much as is wanted. */
const props = defineProps<{ solved: Pick<Solved, 'logId' | 'steps' | 'tune' | 'result'>; logName: string; fits: boolean; busy: boolean }>()
const emit = defineEmits<{ drive: [by: { steps: number; fromC?: number }] }>()
const STEPS_ASKED = 12
const COLD_FROM_C = 10
const builds = useBuild()
const settings = useSettings()
const message = useMessage()
const judged = useJudged<StepsJudged>(
  () => props.solved.logId,
  () => props.solved.steps(),
)
const rehearsing = computed(() => builds.view === 'rehearsal')
const says: Record<StepsJudged['says'], string> = {
  'linkage-first': 'The linkage comes first',
  'too-few': 'Too few openings to tell',
  'map-first': 'The map comes first',
  unsure: 'They scatter too much to tell',
  right: 'As much as is wanted',
  lean: 'It goes lean as the throttle opens',
  rich: 'It goes rich as the throttle opens',
}
/** driven on this tune, and nothing is wrong with the log */
const believed = computed(() => props.fits && props.solved.result.sound)
const next = computed(() => {
  const { tune } = props.solved
  const times = judged.value?.times
  return tune && times && believed.value
    ? applySteps(tune.document, times, `learned from ${judged.value!.steps.length} throttle steps of ${props.logName}`)
    : null
})
const warmIsOff = computed(() => judged.value?.says === 'lean' || judged.value?.says === 'rich')
const { busy: storing, problem, store: storeVersion } = useNewVersion()
async function store(document: TuneDocument): Promise<void> {
  const made = await storeVersion(async () => ({
    name: 'Fuel for throttle steps',
    origin: 'edited',
    parentId: props.solved.tune!.id,
    document,
  }))
  if (made) message.success(`Version ${made.number} stored. Drive the same steps on it.`)
}
const W = 720
const H = 180
const FOOT = 26
const curve = computed(() => judged.value?.curve ?? [])
const most = computed(() => Math.max(10, ...curve.value.flatMap((p) => [Math.abs(p.missingPct), p.givenPct ?? 0])))
const x = (s: number): number => 56 + ((s + 0.5) / 2.5) * (W - 68)
const y = (pct: number): number => (H - FOOT) / 2 - (pct / most.value) * ((H - FOOT) / 2 - 10)
const line = (of: (p: StepsJudged['curve'][number]) => number | null): string =>
  curve.value.flatMap((p) => (of(p) === null ? [] : [`${x(p.atS).toFixed(1)},${y(of(p)!).toFixed(1)}`])).join(' ')
</script>

<template>
  <details
    v-if="judged"
    data-at="throttle-steps"
    data-testid="throttle-steps"
    :open="warmIsOff || judged.cold.times !== null || judged.length?.next != null || judged.catches !== null"
  >
    <summary>
      <strong class="head">Throttle steps</strong>{{ says[judged.says] }}
      <span v-if="judged.says !== 'map-first' && !judged.catches" class="soft"
        >{{ judged.steps.length }} {{ judged.steps.length === 1 ? 'step' : 'steps' }} of a warm engine</span
      >
    </summary>
    <p v-if="judged.catches" class="warn" data-testid="steps-said">
      {{ catchesSaid(judged.catches) }} Engine off first; then drive these steps again: no fuel makes up for it.
    </p>
    <p v-else-if="judged.says === 'map-first'" data-testid="steps-said">
      Over {{ judged.offMapSteps }} openings the map itself goes from one error to another: learn it first, then drive steps.
    </p>
    <p v-else-if="judged.says !== 'too-few'" data-testid="steps-said">
      On the mean {{ Math.abs(judged.missingPctS).toFixed(1) }} ± {{ judged.errorPctS.toFixed(1) }} %·s of fuel
      {{ judged.missingPctS > 0 ? 'are missing' : 'are too much' }} over a step, beyond what the map lacks before and after it.
      <template v-if="judged.shape === 'lean-then-rich'">It is lean first and rich then: more, for a shorter time.</template>
      <template v-else-if="judged.shape === 'rich-then-lean'">It is rich first and lean then: less, for a longer time.</template>
    </p>
    <p v-if="judged.says === 'too-few' || judged.says === 'unsure'">
      Warm, on a straight and empty road, in third: hold a steady speed for five seconds and the foot still for one, open by a fifth or more
      in a third of a second, keep it there for two seconds, and let go. Ten times, not under {{ LEAST_STEPS }}. A passenger counts.
    </p>
    <figure v-if="judged.steps.length >= LEAST_STEPS">
      <svg
        class="w-full"
        :viewBox="`0 0 ${W} ${H}`"
        role="img"
        :aria-label="`Fuel missing over ${judged.steps.length} steps, and what was given for them`"
      >
        <line :x1="56" :x2="W - 12" :y1="y(0)" :y2="y(0)" class="pen-axis" />
        <line :x1="x(0)" :x2="x(0)" :y1="6" :y2="H - FOOT" class="pen-axis" />
        <text v-for="s in [1, 0, -1]" :key="s" :x="48" :y="y(s * most) + 6" text-anchor="end">{{ (s * most).toFixed(0) }} %</text>
        <text v-for="s in [0, 1, 2]" :key="`t${s}`" :x="x(s)" :y="H - 6" text-anchor="middle">{{ s }} s</text>
        <polyline :points="line((p) => p.givenPct)" class="pen-beside" />
        <polyline :points="line((p) => p.missingPct)" class="pen" />
      </svg>
      <figcaption>Mean of the steps from where the foot moves: fuel missing (line), fuel given for the step (dashed).</figcaption>
    </figure>
    <div class="act">
      <template v-if="next">
        <n-button type="primary" size="large" :loading="storing" data-testid="steps-accept" @click="store(next)"
          >A version with {{ next.parameters.accelPctPer100 }} % for {{ solved.tune!.document.parameters.accelPctPer100 }} %</n-button
        >
        <span class="soft">for a throttle of 100 %/s; by pressure alike</span>
      </template>
      <span v-else-if="warmIsOff && !solved.result.sound" class="soft">Shut until the test above has settled what is wrong.</span>
      <span v-else-if="warmIsOff && judged.times === null" class="soft"
        >The log does not tell what was given for a step: change it by a fifth, and drive the same steps.</span
      >
      <n-button
        v-if="rehearsing"
        dashed
        size="large"
        :disabled="busy"
        data-testid="bench-steps"
        @click="emit('drive', { steps: STEPS_ASKED })"
        >Bench: {{ STEPS_ASKED }} throttle steps</n-button
      >
      <n-button
        v-if="rehearsing"
        dashed
        size="large"
        :disabled="busy"
        data-testid="bench-cold-steps"
        @click="emit('drive', { steps: STEPS_ASKED, fromC: COLD_FROM_C })"
        >Bench: the same from {{ settings.format(COLD_FROM_C, 'temperature') }}</n-button
      >
      <span v-if="problem" class="stop" role="alert">{{ problem }}</span>
    </div>
    <cold-steps
      v-if="!judged.catches"
      :judged="judged"
      :tune="believed ? (solved.tune?.document ?? null) : null"
      :log-name="logName"
      :storing="storing"
      @store="store"
    />
  </details>
</template>
