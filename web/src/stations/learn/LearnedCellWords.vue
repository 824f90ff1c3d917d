<script setup lang="ts">
import { computed } from 'vue'
import { type LearnCell, settleTime } from '@vectum/core'

/** What a learning unit holds at a cell, and how long it still takes there. */
const props = defineProps<{ cell: LearnCell; usedSeconds: number; drivenS: number; settleS?: number }>()
const settling = computed(() => settleTime(props.cell, props.usedSeconds, props.drivenS, props.settleS))
</script>

<template>
  <span>
    It holds {{ cell.learnedPct!.toFixed(1) }} %, the base needs {{ cell.neededBasePct!.toFixed(1) }} %;
    {{ cell.movedPct == null ? 'visited once' : `moved ${cell.movedPct.toFixed(1)} % since the visit before` }}.
    <template v-if="cell.uncorrected">It never learns here: no trim works.</template>
    <template v-else-if="settling && settling.secondsHere > 0">
      About {{ Math.ceil(settling.secondsHere) }} s more here until it is learned, {{ Math.ceil(settling.minutesLikeThis) }} min of driving
      like this.
    </template>
  </span>
</template>
