<script setup lang="ts">
import { NButton } from 'naive-ui'
import EffectList from './EffectList.vue'
import type { Proposal } from './use-proposal.ts'

/** A choice not yet taken, with what it would change. */
defineProps<{ proposal: Proposal }>()
const emit = defineEmits<{ take: []; leave: [] }>()
</script>

<template>
  <section class="boxed effect" aria-live="polite" data-testid="effect">
    <h2>{{ proposal.title }} would change</h2>
    <effect-list :effect="proposal.effect" />
    <div class="row flex gap-3 mt-2">
      <n-button type="primary" data-testid="take" @click="emit('take')">Take it</n-button>
      <n-button @click="emit('leave')">Leave it</n-button>
    </div>
  </section>
</template>

<style scoped>
.effect {
  position: sticky;
  bottom: 0;
  z-index: 2;
  background: var(--sheet);
}
</style>
