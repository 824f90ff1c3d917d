<script setup lang="ts">
import type { StationState } from '@vectum/core'

/** In rehearsal its rim is dashed. State as a shape: filled disc cleared, half disc ready, ring open, barred square stop. The word stands beside it. */
defineProps<{ state: StationState; size?: number; onInk?: boolean; dashed?: boolean }>()
</script>

<template>
  <svg
    class="fill-ink stroke-none flex-none"
    :width="size ?? 18"
    :height="size ?? 18"
    viewBox="0 0 18 18"
    aria-hidden="true"
    :class="[state, { onInk, dashed }]"
  >
    <template v-if="state === 'cleared'">
      <circle cx="9" cy="9" :r="dashed ? 5 : 8.5" />
      <circle v-if="dashed" class="ring" cx="9" cy="9" r="7.7" />
    </template>
    <template v-else-if="state === 'ready'">
      <circle class="ring" cx="9" cy="9" r="7.7" />
      <path d="M9 1.3a7.7 7.7 0 0 1 0 15.4z" />
    </template>
    <circle v-else-if="state === 'open'" class="ring" cx="9" cy="9" r="7.7" />
    <template v-else>
      <rect x="1" y="1" width="16" height="16" />
      <path class="bar" d="M4 14L14 4" />
    </template>
  </svg>
</template>

<style scoped>
.onInk {
  fill: var(--onInk);
}
.cleared {
  fill: var(--clear);
}
.cleared.onInk {
  fill: var(--onInk);
}
.blocked {
  fill: var(--stop);
}
.ring {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.6;
}
.onInk .ring {
  stroke: var(--onInk);
}
.dashed.blocked rect {
  fill: none;
  stroke: var(--stop);
  stroke-width: 1.6;
  stroke-dasharray: 3 2;
}
.dashed.blocked .bar {
  stroke: var(--stop);
}
.dashed .ring {
  stroke-dasharray: 3 2;
}
.bar {
  stroke: var(--sheet);
  stroke-width: 2.4;
  fill: none;
}
</style>
