<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { applyColdSteps, applyLength, type StepsJudged, type TuneDocument } from '@vectum/core'
import { useSettings } from '../../stores/settings.ts'

/** What steps of a cold engine tell: how long the fuel for them should last, and how many times as much as warm it is. */
const props = defineProps<{
  judged: StepsJudged
  /** the tune that was driven; null: the log is not believed, or driven on another */
  tune: TuneDocument | null
  logName: string
  storing: boolean
}>()
const emit = defineEmits<{ store: [document: TuneDocument] }>()
const settings = useSettings()
const cold = computed(() => (props.judged.cold.steps > 0 || props.judged.cold.says === 'map-first' ? props.judged.cold : null))
const length = computed(() => (props.judged.length && props.judged.length.says !== 'too-few' ? props.judged.length : null))
const warmIsOff = computed(() => props.judged.says === 'lean' || props.judged.says === 'rich')
/** a cold step is so many times a warm one: the warm ones come first */
const mends = computed(() => (warmIsOff.value ? null : props.tune))
const provenance = (steps: number): string => `learned from ${steps} throttle steps of a cold engine of ${props.logName}`
const nextLength = computed(() => mends.value && length.value && applyLength(mends.value, length.value, provenance(length.value.steps)))
const nextCold = computed(() =>
  mends.value && cold.value && !nextLength.value ? applyColdSteps(mends.value, cold.value, provenance(cold.value.steps)) : null,
)
const s = (seconds: number): string => (seconds < 0.1 ? 'under 0.1' : seconds > 3 ? 'over 3' : String(Number(seconds.toPrecision(2))))
</script>

<template>
  <div v-if="cold" class="act" data-testid="cold-steps">
    <span v-if="cold.says === 'map-first'"
      >Over openings of a cold engine the map itself goes from one error to another: learn it first.</span
    >
    <span v-else
      >{{ cold.steps }} {{ cold.steps === 1 ? 'step' : 'steps' }} of an engine of {{ settings.format(cold.coolantC, 'temperature') }} on the
      mean:
      <template v-if="cold.says === 'too-few'">too few to tell.</template>
      <template v-else-if="cold.says === 'unsure'">they scatter too much to tell.</template>
      <template v-else-if="cold.says === 'right'">as much as is wanted.</template>
      <template v-else
        >{{ Math.abs(cold.missingPctS).toFixed(1) }} ± {{ cold.errorPctS.toFixed(1) }} %·s of fuel
        {{ cold.missingPctS > 0 ? 'are missing' : 'are too much' }} over one.</template
      >
      <template v-if="cold.times !== null && warmIsOff"> Put the warm ones right first: a cold step is so many times a warm one.</template>
    </span>
    <n-button
      v-if="nextCold && tune"
      type="primary"
      size="large"
      :loading="storing"
      data-testid="cold-steps-accept"
      @click="emit('store', nextCold)"
      >A version with {{ nextCold.parameters.accelColdFactor }} times for {{ tune.parameters.accelColdFactor }} times at
      {{ settings.format(0, 'temperature') }}</n-button
    >
  </div>
  <div v-if="length" class="act" data-testid="step-length">
    <span>
      <template v-if="length.says === 'right'">It lasts as long as is wanted: it decays in {{ s(length.standsS) }} s, and</template>
      <template v-else-if="length.says === 'unsure'"
        >How long it should last does not show yet: it decays in {{ s(length.standsS) }} s, and</template
      >
      <template v-else>
        It {{ length.says === 'too-short' ? 'does not last long enough' : 'lasts too long' }}: {{ length.misplacedPctS.toFixed(1) }} %·s
        come at the wrong moment, however much is given. It decays in {{ s(length.standsS) }} s, and</template
      >
      from {{ s(length.fromS) }} to {{ s(length.toS) }} s fit the {{ length.steps }} cold steps.
      <template v-if="length.says === 'unsure'"> Steps from colder tell more: a warm film dries too fast to show it.</template>
      <template v-if="length.next && warmIsOff"> Put the warm ones right first.</template>
    </span>
    <template v-if="nextLength && tune">
      <n-button type="primary" size="large" :loading="storing" data-testid="step-length-accept" @click="emit('store', nextLength)"
        >A version in which it decays in {{ nextLength.parameters.accelDecayS }} s for {{ tune.parameters.accelDecayS }} s</n-button
      >
      <span class="soft"
        >as much of it for a warm engine; {{ nextLength.parameters.accelColdFactor }} times for {{ tune.parameters.accelColdFactor }} times
        at {{ settings.format(0, 'temperature') }}</span
      >
    </template>
  </div>
</template>
