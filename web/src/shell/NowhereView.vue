<script setup lang="ts">
import { RouterLink } from 'vue-router'
</script>

<template>
  <main style="padding: 48px">
    <h1>There is nothing here</h1>
    <p>The address does not lead to a build or a station.</p>
    <p><router-link to="/">Back to the board</router-link></p>
  </main>
</template>
