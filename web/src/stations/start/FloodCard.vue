<script setup lang="ts">
import EntryForm from '../../kit/EntryForm.vue'
</script>

<!-- A flooded engine: not turned until plugs are out and the oil has been looked at. -->
<template>
  <div class="act bold-a-stop py-2 px-4" role="alert">
    <strong class="head stop text-t4">Flooded. Do not turn the engine.</strong>
    <entry-form kind="start.flood-cleared" />
  </div>
</template>
