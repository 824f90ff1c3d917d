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
    <ul class="list-none my-2 mx-0 p-0">
      <li v-for="p in pairs" :key="p.id" class="flex gap-3 items-center py-2 px-0 dots-b-hair">
        <fit-mark :fit="p.fit" />
        <span><strong class="head block text-t3">{{ p.label }}</strong><small class="soft">{{ settings.say(p.text) }}</small></span>
      </li>
    </ul>
  </section>
</template>
