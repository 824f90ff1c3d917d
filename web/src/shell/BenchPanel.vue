<script setup lang="ts">
/** A panel about the bench car: dashed, so that nobody takes it for the real one, and closed until wanted. */
defineProps<{ title: string; note: string }>()
</script>

<template>
  <details class="panel">
    <summary>
      <strong class="head">{{ title }}</strong>
      <span class="soft">{{ note }}</span>
    </summary>
    <slot />
  </details>
</template>

<style scoped>
.panel {
  border: 1px dashed var(--soft);
  padding: var(--s2) var(--s4);
  margin-top: var(--s4);
}
</style>
