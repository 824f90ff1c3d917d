<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { Build } from '@vectum/core'
import { useSettings } from '../stores/settings.ts'
import { routeTo } from './landing.ts'

/** Proofs of a station that no longer stand: which, why, and one tap to the place where it is done again. */
const props = defineProps<{ station: Build['stations'][number]; buildId: string }>()
const router = useRouter()
const settings = useSettings()
const fallen = computed(() => props.station.requirements.filter((r) => !r.met && r.voidSaid !== undefined))
</script>

<template>
  <section v-if="fallen.length" class="fallen mb-4" aria-label="To be proved again">
    <h2 class="caps mb-2">To be proved again</h2>
    <button
      v-for="r in fallen"
      :key="r.id"
      class="plain"
      data-testid="fallen"
      @click="router.push(routeTo(r.where ?? { station: station.id }, buildId))"
    >
      <strong class="block">{{ settings.say(r.said) }}</strong>
      <span class="soft block text-t1">{{ settings.say(r.voidSaid!) }}</span>
    </button>
  </section>
</template>

<style scoped>
.fallen button {
  display: block;
  width: 100%;
  min-height: 44px;
  padding: var(--s2) 0 var(--s2) var(--s3);
  margin-bottom: var(--s2);
  border-left: 5px dashed var(--warn);
}
</style>
