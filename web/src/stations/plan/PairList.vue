<script setup lang="ts">
import { computed } from 'vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import FitMark from './FitMark.vue'

/** Parts that must go together, pair by pair: what is told of each decides, and what is not told is asked for. */
const builds = useBuild()
const settings = useSettings()
const pairs = computed(() => builds.context!.contributed('pairs'))
</script>

<template>
  <section v-if="pairs.length" aria-label="What must go together">
    <h2>What must go together</h2>
    <ul>
      <li v-for="p in pairs" :key="p.id">
        <fit-mark :fit="p.fit" />
        <span
          ><strong class="head">{{ p.label }}</strong
          ><small class="soft">{{ settings.say(p.text) }}</small></span
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: var(--s2) 0;
  padding: 0;
}
li {
  display: flex;
  gap: var(--s3);
  align-items: center;
  padding: var(--s2) 0;
  border-bottom: 1px dotted var(--hair);
}
li strong {
  display: block;
  font-size: var(--t3);
}
</style>
