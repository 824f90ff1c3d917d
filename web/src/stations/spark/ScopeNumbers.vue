<script setup lang="ts">
import type { ScopeVerdict } from '../../workers/scope-worker.ts'

/** What a record says of the sensor, in numbers. */
defineProps<{ verdict: ScopeVerdict; polarity: 'right' | 'reversed' | 'unknown' }>()
const polarityWords = { right: 'as set up', reversed: 'the wrong way round', unknown: 'cannot be told yet' } as const
</script>

<template>
  <dl class="flex flex-wrap gap-y-1 gap-x-5 m-0">
    <div>
      <dt>Speed by the pulses</dt>
      <dd class="num">{{ verdict.rpm === null ? '–' : `${verdict.rpm.toFixed(0)} rpm` }}</dd>
    </div>
    <div :class="{ stop: verdict.missing.length }">
      <dt>Missing of {{ verdict.pulses + verdict.missing.length }}</dt>
      <dd class="num">{{ verdict.missing.length }}</dd>
    </div>
    <div :class="{ stop: verdict.extra.length }">
      <dt>Too many</dt>
      <dd class="num">{{ verdict.extra.length }}</dd>
    </div>
    <div>
      <dt>Jitter, rms</dt>
      <dd class="num">{{ verdict.jitterDeg === null ? '–' : `${verdict.jitterDeg.toFixed(2)}°` }}</dd>
    </div>
    <div :class="{ stop: polarity === 'reversed' }">
      <dt>Passes the target</dt>
      <dd class="num">{{ polarityWords[polarity] }}</dd>
    </div>
    <div v-if="verdict.counted">
      <dt>Wheel, between its gaps</dt>
      <dd class="num">{{ verdict.counted.places }} less {{ verdict.counted.missing }}</dd>
    </div>
    <div>
      <dt>Peak over noise</dt>
      <dd class="num">{{ verdict.peakV.toFixed(2) }} / {{ verdict.noiseV.toFixed(2) }} V</dd>
    </div>
  </dl>
  <p v-if="verdict.unsure" class="soft">Which way it passes cannot be told: {{ verdict.unsure }}.</p>
</template>

<style scoped>
dd {
  font-size: var(--t5);
}
</style>
