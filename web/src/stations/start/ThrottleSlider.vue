<script setup lang="ts">
import { ref } from 'vue'
import { useStartDesk } from './use-start-desk.ts'

/** A foot on the bench's throttle. */
defineProps<{ max: number }>()
const { say } = useStartDesk()
const pct = ref(0)
</script>

<template>
  <label class="slider"
    >Throttle
    <input
      v-model.number="pct"
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

<style scoped>
.slider {
  display: flex;
  gap: var(--s2);
  align-items: center;
  min-height: 44px;
}
input {
  width: 150px;
}
</style>
