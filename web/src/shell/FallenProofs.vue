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
  <section v-if="fallen.length" class="fallen" aria-label="To be proved again">
    <h2 class="caps">To be proved again</h2>
    <button
      v-for="r in fallen"
      :key="r.id"
      class="plain"
      data-testid="fallen"
      @click="router.push(routeTo(r.where ?? { station: station.id }, buildId))"
    >
      <strong>{{ settings.say(r.said) }}</strong>
      <span class="soft">{{ settings.say(r.voidSaid!) }}</span>
    </button>
  </section>
</template>

<style scoped>
.fallen {
  margin-bottom: 14px;
}
.fallen .caps {
  margin-bottom: 8px;
}
.fallen button {
  display: block;
  width: 100%;
  min-height: 44px;
  padding: 6px 0 8px 12px;
  margin-bottom: 8px;
  border-left: 5px dashed var(--warn);
}
.fallen strong,
.fallen span {
  display: block;
}
.fallen span {
  font-size: var(--t1);
}
</style>
