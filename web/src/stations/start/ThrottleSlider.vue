<script setup lang="ts">
import { ref } from 'vue'
import { useStartDesk } from './use-start-desk.ts'

/** A foot on the bench's throttle. */
defineProps<{ max: number }>()
const { say } = useStartDesk()
const pct = ref(0)
</script>

<template>
  <label class="flex gap-2 items-center min-h-44px"
    >Throttle
    <input
      v-model.number="pct"
      class="w-150px"
      type="range"
      min="0"
      :max="max"
      aria-label="Throttle, percent"
      data-testid="throttle"
      @change="say('throttle', { pct })"
    />
    {{ pct }} %</label
  >
</template>
