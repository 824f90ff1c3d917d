<script setup lang="ts">
import type { PlanEffect } from '@vectum/core'

/** What a change does: parts, hours, and the findings that appear or go. */
defineProps<{ effect: PlanEffect }>()
const signed = (n: number) => `${n > 0 ? '+' : ''}${n.toFixed(0)}`
const span = (h: { low: number; high: number }) => `${h.low.toFixed(0)}–${h.high.toFixed(0)} h`
</script>

<template>
  <p class="my-1 mx-0">
    Parts <strong class="num">{{ effect.cost.before.toFixed(0) }} → {{ effect.cost.after.toFixed(0) }}</strong> ({{
      signed(effect.cost.after - effect.cost.before)
    }}), hours
    <strong class="num">{{ span(effect.hours.before) }} → {{ span(effect.hours.after) }}</strong>
  </p>
  <ul v-if="effect.appears.length || effect.clears.length">
    <li v-for="f in effect.appears" :key="`${f.station}${f.id}`" :class="f.severity">appears: {{ f.message }}</li>
    <li v-for="f in effect.clears" :key="`${f.station}${f.id}`" class="clear">goes: {{ f.message }}</li>
  </ul>
  <p v-else class="soft my-1 mx-0">No finding appears or goes.</p>
</template>
