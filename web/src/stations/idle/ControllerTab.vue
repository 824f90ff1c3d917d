<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, reactive, ref, shallowRef, toRaw, watch } from 'vue'
import {
  type BuildData,
  checkParameter,
  controllerOf,
  LEAST_MARGIN_DEG,
  loopMove,
  mixtureLoopMove,
  parameterSpecs,
  phaseMarginDeg,
  readingsOf,
  spaced,
  sparkMove,
  type TuneParameters,
  valveSharePct,
} from '@vectum/core'
import OptionRow from '../../quantity/OptionRow.vue'
import QuantityField from '../../quantity/QuantityField.vue'
import { useTuneVersions } from '../tune/use-tune-versions.ts'
import SpeedTrace from './SpeedTrace.vue'
import { useIdle } from './use-idle.ts'
import { useIdleWorker } from './use-idle-worker.ts'

/** The idle controller: what the engine's own swing says of it, the moves worked out from that, a try on the bench, and the version they go into. */
const { builds, c, tune, seen, air, targetRpm } = useIdle()
const { storeEdited, error } = useTuneVersions()
const { tasks, cancel } = useIdleWorker()
const keys = ['idleGainPct', 'idleIntegralPctS', 'idleDampingPct', 'idleSparkDegPer100', 'idleSparkMostDeg', 'loopGainPctS'] as const
type Key = (typeof keys)[number]
const typed = reactive<Partial<Record<Key, number>>>({})
const parameters = computed(() => tune.value?.document.parameters ?? null)
watch(
  () => tune.value?.id,
  () => parameters.value && Object.assign(typed, Object.fromEntries(keys.map((k) => [k, parameters.value![k]]))),
  { immediate: true },
)
/** the engine, from the swing of now, else from the last one on record */
const plant = computed(
  () => seen.value?.verdict.loop ?? readingsOf(c.value.readings, 'idle.verdict').findLast((r) => r.value.loop)?.value.loop ?? null,
)
const controller = computed(() => controllerOf((parameters.value ?? {}) as Record<string, number>))
const damped = ref(false)
const move = computed(() => (plant.value && controller.value ? loopMove(controller.value, plant.value, { damped: damped.value }) : null))
/** what 1 % of valve is of the idle's air is known once the air was parted */
const sparkDeg = computed(() => {
  const share = air.value && valveSharePct(air.value)
  return move.value && plant.value && share ? sparkMove(plant.value, move.value.crossoverRadS, share) : null
})
const ofMixture = computed(() => {
  const v = seen.value?.verdict
  return v?.verdict === 'hunting-mixture' && v.periodS && parameters.value
    ? mixtureLoopMove(parameters.value.loopGainPctS, v.periodS)
    : null
})
const changes = computed<Partial<TuneParameters>>(() =>
  Object.fromEntries(keys.flatMap((k) => (typed[k] !== undefined && typed[k] !== parameters.value?.[k] ? [[k, typed[k]]] : []))),
)
const changed = computed(() => Object.keys(changes.value).length > 0)
const margin = computed(() => {
  const next = controllerOf({ ...parameters.value, ...changes.value } as Record<string, number>)
  return plant.value && next ? phaseMarginDeg(next, plant.value) : null
})
function take(): void {
  if (ofMixture.value !== null) typed.loopGainPctS = ofMixture.value
  else if (move.value)
    Object.assign(typed, {
      idleGainPct: move.value.idleGainPct,
      idleIntegralPctS: move.value.idleIntegralPctS,
      idleDampingPct: move.value.idleDampingPct,
      ...(sparkDeg.value === null ? {} : { idleSparkDegPer100: sparkDeg.value }),
    })
}
type Tried = Awaited<ReturnType<ReturnType<typeof tasks>['tried']>>
const before = shallowRef<Tried | undefined>()
const after = shallowRef<Tried | undefined>()
const trying = ref<'before' | 'after' | null>(null)
async function tryIt(): Promise<void> {
  before.value = after.value = undefined
  const build = JSON.parse(JSON.stringify(builds.current!)) as BuildData
  const { document } = tune.value!
  try {
    trying.value = 'before'
    before.value = await tasks().tried(build, toRaw(document), {})
    trying.value = 'after'
    after.value = await tasks().tried(build, toRaw(document), { ...toRaw(changes.value) })
  } finally {
    trying.value = null
  }
}
function giveUp(): void {
  cancel()
  trying.value = null
}
const made = ref<number | null>(null)
async function store(): Promise<void> {
  const { document, id } = tune.value!
  const provenance = Object.fromEntries(
    Object.keys(changes.value).map((k) => [k, plant.value ? 'edited: worked out at Idle from the engine’s own swing' : 'edited at Idle']),
  )
  const next = await storeEdited(
    { ...toRaw(document), parameters: { ...document.parameters, ...changes.value }, provenance: { ...document.provenance, ...provenance } },
    id,
  )
  made.value = next?.number ?? null
}
</script>

<template>
  <section class="pad">
    <template v-if="tune">
      <p v-if="ofMixture !== null" class="head-t4">
        The mixture drives the swing: {{ parameterSpecs.loopGainPctS.label.toLowerCase() }} {{ parameters!.loopGainPctS }} to
        {{ ofMixture }}
        {{ parameterSpecs.loopGainPctS.unit }}
      </p>
      <template v-else-if="plant && move">
        <p class="measure" data-testid="plant">{{ move.because }}</p>
        <option-row
          v-model="damped"
          firm
          label="How quick"
          :options="[
            { value: false, label: 'calm' },
            { value: true, label: 'quick, with damping' },
          ]"
        />
        <p v-if="sparkDeg === null" class="soft">Idle spark is worked out too once the air was parted, under Air.</p>
        <p class="flex flex-wrap gap-y-2 gap-x-5 items-baseline">
          <span
            ><strong class="num text-t5">{{ phaseMarginDeg(controller!, plant).toFixed(0) }}°</strong> phase margin with the tune in the
            car</span
          >
          <span :class="{ clear: margin! >= LEAST_MARGIN_DEG, stop: margin! < LEAST_MARGIN_DEG }"
            ><strong class="num text-t5">{{ margin!.toFixed(0) }}°</strong> as set below, {{ LEAST_MARGIN_DEG }}° at least</span
          >
        </p>
      </template>
      <p v-else class="empty">
        It does not swing: there is nothing to work the engine out from, and nothing to mend. A swing found under Trace, here or on record,
        gives gain and delay.
      </p>
      <n-button v-if="move || ofMixture !== null" type="primary" size="large" data-testid="take-moves" @click="take"
        >Set what it works out to</n-button
      >
      <div class="fields">
        <quantity-field
          v-for="k in keys"
          :key="k"
          v-model="typed[k]"
          :label="`${parameterSpecs[k].label}, ${parameterSpecs[k].unit}`"
          dimension="number"
          :decimals="2"
          :input-id="`idle-${k}`"
          :check="(v) => checkParameter(k, v)?.slice(parameterSpecs[k].label.length + 2) ?? null"
        />
      </div>
      <div class="act">
        <n-button size="large" dashed :disabled="!changed || trying !== null" data-testid="try-idle" @click="tryIt"
          >Try it on the bench</n-button
        >
        <n-button v-if="trying" @click="giveUp">Give up</n-button>
        <span v-if="trying" class="soft" role="status">{{
          trying === 'before' ? 'half a minute as it is …' : 'half a minute with the moves …'
        }}</span>
        <n-button size="large" :disabled="!changed" data-testid="store-moves" @click="store">Make it a version</n-button>
      </div>
      <p v-if="error" class="stop" role="alert">{{ error }}</p>
      <p v-if="made" class="clear">Version {{ made }} holds it. Send it at Base tune, then judge the idle again.</p>
      <template
        v-for="[word, one] in [
          ['As it is', before],
          ['With the moves', after],
        ] as const"
        :key="word"
      >
        <template v-if="one">
          <speed-trace
            :time-s="one.trace.timeS"
            :rpm="one.trace.rpm"
            :target-rpm="targetRpm"
            :label="`${word}, on the bench: ${spaced(one.verdict.verdict)}, ${one.verdict.rpmStdDev?.toFixed(0) ?? '–'} rpm rms`"
          />
        </template>
        <p v-else-if="one === null" class="warn">{{ word }}: the bench car does not go on running.</p>
      </template>
    </template>
    <p v-else class="empty">No tune is in the car: the controller is part of it.</p>
  </section>
</template>
