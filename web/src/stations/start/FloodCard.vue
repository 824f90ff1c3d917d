<script setup lang="ts">
import EntryForm from '../../kit/EntryForm.vue'
</script>

<!-- A flooded engine: not turned until plugs are out and the oil has been looked at. -->
<template>
  <div class="flood act" role="alert">
    <strong class="head stop">Flooded. Do not turn the engine.</strong>
    <entry-form kind="start.flood-cleared" />
  </div>
</template>

<style scoped>
.flood {
  border: 2px solid var(--stop);
  padding: var(--s2) var(--s4);
}
.head {
  font-size: var(--t4);
}
</style>
