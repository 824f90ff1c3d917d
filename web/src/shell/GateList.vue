<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Gate } from '@vectum/core'
import { useSettings } from '../stores/settings.ts'

const settings = useSettings()

/** Why a dangerous step is still shut: each gate, met or not, with its reason. */
defineProps<{ gates: Gate[]; buildId: string }>()
</script>

<template>
  <ul class="gates">
    <li v-for="g in gates" :key="g.id" :class="{ met: g.met }">
      <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true">
        <path v-if="g.met" d="M2 8.5L6.5 13L14 3.5" />
        <path v-else d="M2 2H14V14H2Z" />
      </svg>
      <span>
        <router-link v-if="!g.met" :to="{ name: g.station, params: { id: buildId } }">{{ g.label }}</router-link><template v-else>{{
          g.label
        }}</template>
        <small>{{ settings.say(g.why) }}</small>
      </span>
    </li>
  </ul>
</template>

<style scoped>
.gates {
  list-style: none;
  margin: var(--s2) 0;
  padding: 0;
}
li {
  display: flex;
  gap: var(--s3);
  padding: var(--s1) 0;
}
svg {
  flex: none;
  margin-top: var(--s1);
  fill: none;
  stroke: var(--stop);
  stroke-width: 2.4;
}
.met svg {
  stroke: var(--clear);
}
small {
  display: block;
  color: var(--soft);
}
</style>
