<script setup lang="ts">
import { useLive } from '../../stores/live.ts'
import { useStartDesk } from './use-start-desk.ts'

/** How fast the bench's clock runs; a logger's is the car's. */
const live = useLive()
const { say } = useStartDesk()
</script>

<template>
  <div v-if="live.device !== 'line'" class="clock flex items-center" role="group" aria-label="Clock">
    <span class="soft mr-2 text-t1">clock</span>
    <button v-for="r in [1, 5, 20]" :key="r" :class="{ on: live.rate === r }" @click="say('clock', { rate: r })">×{{ r }}</button>
  </div>
</template>

<style scoped>
.clock button {
  border: 1px solid var(--soft);
  background: var(--sheet);
  color: var(--ink);
  min-width: 46px;
  min-height: 44px;
  cursor: pointer;
  font: 600 var(--t2) var(--head);
}
.clock .on {
  background: var(--ink);
  color: var(--onInk);
}
</style>
