<script setup lang="ts">
/** Head of a station's screen: its name, and one line of what it answers or where it stands. */
defineProps<{ title: string; line?: string }>()
</script>

<template>
  <div class="station-head">
    <h1>{{ title }}</h1>
    <p v-if="line">{{ line }}</p>
    <slot />
  </div>
</template>
