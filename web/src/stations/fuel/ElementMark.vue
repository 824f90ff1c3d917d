<script setup lang="ts">
import type { FuelElement } from '@vectum/core'
import type { EquipmentId } from './circuit-layout.ts'

/** Plain drawing-office marks for what stands in a fuel line, after ISO 1219. `back` turns what has a direction. */
defineProps<{ element?: FuelElement | null; equipment?: EquipmentId | null; back?: boolean }>()
</script>

<template>
  <g class="mark" :transform="back ? 'scale(-1 1)' : undefined">
    <template v-if="element?.kind === 'line'">
      <rect v-if="element.material === 'hard'" x="-20" y="-5" width="40" height="10" />
      <path v-else class="hose" d="M-20 0q5 -9 10 0t10 0t10 0t10 0" />
    </template>
    <template v-else-if="element?.kind === 'fitting'">
      <circle r="9" />
      <path v-if="element.fitting === 'elbow'" d="M-5 4H4V-5" />
      <path v-else d="M-5 0H5" />
    </template>
    <template v-else-if="element?.kind === 'filter'">
      <path d="M0 -17L17 0L0 17L-17 0Z" />
      <path d="M0 -17V17" :stroke-dasharray="element.micron >= 50 ? '2 5' : '2 2'" />
    </template>
    <template v-else-if="element?.kind === 'check-valve'">
      <path d="M-11 -10L7 0L-11 10Z" />
      <path d="M9 -11V11" class="bar" />
    </template>
    <template v-else-if="equipment === 'pump' || equipment === 'lift-pump'">
      <circle r="20" />
      <path d="M4 -12L18 0L4 12Z" class="solid" />
    </template>
    <template v-else-if="equipment === 'regulator'">
      <rect x="-17" y="-17" width="34" height="34" />
      <path d="M-10 0H8M3 -5L9 0L3 5M0 -17V-26" />
    </template>
    <template v-else-if="equipment === 'injectors'">
      <path d="M-16 -8H16M-11 -8L-7 8L-3 -8M3 -8L7 8L11 -8" />
      <path d="M-9 14l-4 8M-5 14l3 8M5 14l-3 8M9 14l4 8" class="spray" />
    </template>
  </g>
</template>

<style scoped>
.mark * {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 2;
}
.mark .hose,
.mark .spray {
  fill: none;
}
.mark .spray {
  stroke: var(--data);
}
.mark .solid {
  fill: var(--ink);
}
.mark .bar {
  stroke-width: 3.5;
}
</style>
