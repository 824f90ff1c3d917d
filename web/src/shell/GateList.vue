<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Gate } from '@vectum/core'
import { useSettings } from '../stores/settings.ts'

const settings = useSettings()

/** Why a dangerous step is still shut: each gate, met or not, with its reason. */
defineProps<{ gates: Gate[]; buildId: string }>()
</script>

<template>
  <ul class="gates list-none my-2 mx-0 p-0">
    <li v-for="g in gates" :key="g.id" class="flex gap-3 py-1 px-0" :class="{ met: g.met }">
      <svg class="flex-none mt-1 fill-none stroke-stop stroke-2.4" width="16" height="16" viewBox="0 0 16 16" aria-hidden="true">
        <path v-if="g.met" d="M2 8.5L6.5 13L14 3.5" />
        <path v-else d="M2 2H14V14H2Z" />
      </svg>
      <span>
        <router-link v-if="!g.met" :to="{ name: g.station, params: { id: buildId } }">{{ g.label }}</router-link
        ><template v-else>{{ g.label }}</template>
        <small class="block text-soft">{{ settings.say(g.why) }}</small>
      </span>
    </li>
  </ul>
</template>

<style scoped>
.met svg {
  stroke: var(--clear);
}
</style>
