<script setup lang="ts">
import type { Fit } from '@vectum/core'

/** Fits, a limit to live with, fits with work, does not fit: told by shape as well as colour. */
defineProps<{ fit: Fit | 'open' }>()
const title: Record<Fit | 'open', string> = {
  fits: 'fits',
  limit: 'to live with',
  work: 'with work',
  no: 'does not fit',
  open: 'not known yet',
}
</script>

<template>
  <svg class="fit-mark flex-none" :class="fit" width="16" height="16" viewBox="0 0 16 16" role="img" :aria-label="title[fit]">
    <path v-if="fit === 'fits'" d="M2 8.5L6.5 13L14 3.5" />
    <path v-else-if="fit === 'work'" d="M8 2L14.5 14H1.5Z" />
    <path v-else-if="fit === 'limit'" d="M2 8H14" />
    <circle v-else-if="fit === 'open'" cx="8" cy="8" r="6" />
    <path v-else d="M2 2H14V14H2ZM4.5 11.5L11.5 4.5" />
  </svg>
</template>

<style scoped>
path,
circle {
  fill: none;
  stroke-width: 2.4;
}
.limit,
.open {
  stroke: var(--soft);
}
.fits {
  stroke: var(--clear);
}
.work {
  stroke: var(--warn);
}
.no {
  stroke: var(--stop);
}
</style>
