<script setup lang="ts">
import { computed } from 'vue'
import { CONVERGED_RMS_PCT, CONVERGED_TIME_PCT, type LearnResult, SETTLED_FROM_S, settledNow } from '@vectum/core'

/** Whether the unit has settled by this log, or what keeps it from that. */
const props = defineProps<{ result: LearnResult }>()
const standing = computed(() => settledNow(props.result))
const words: Record<string, string> = {
  time: `less than ${CONVERGED_TIME_PCT} % of the driving time is in settled cells`,
  remainder: `more than ${CONVERGED_RMS_PCT} % rms may be left`,
  short: `under ${SETTLED_FROM_S} s of it could be used`,
  'unsafe-lean': 'lean at high load',
}
const because = computed(() => standing.value.because.map((b) => words[b] ?? b.replaceAll('-', ' ')))
const numbers = computed(() => {
  const { settledTimePct, remainderRmsPct } = props.result.totals
  return `${(settledTimePct ?? 0).toFixed(0)} % of the time settled, ${(remainderRmsPct ?? 0).toFixed(1)} % rms left`
})
</script>

<template>
  <p class="settled head text-t4 mx-0 mt-3 mb-0" :class="standing.settled ? 'clear' : 'warn'" role="status" data-testid="settled">
    {{ standing.settled ? 'Settled by this log' : `Not settled: ${because.join('; ')}` }}. {{ numbers }}.
  </p>
</template>
