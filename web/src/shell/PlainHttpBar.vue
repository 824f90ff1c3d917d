<script setup lang="ts">
/** Stands as long as the page came over plain http from another machine: nothing that is typed here is private then. */
const here = ['localhost', '127.0.0.1', '[::1]'].includes(location.hostname)
const plain = location.protocol === 'http:' && !here
</script>

<template>
  <p v-if="plain" class="bar" role="note">
    Plain http: whoever is on this network can read and change what you send, your secret too.
    <span>On the machine, <code>npm run certificate</code> makes what https needs.</span>
  </p>
</template>

<style scoped>
.bar {
  margin: 0;
  /* over the sign-in sheet as well: that is where a secret is typed */
  position: relative;
  z-index: 6500;
  padding: var(--s1) var(--s4);
  background: var(--warn);
  color: var(--sheet);
  font-weight: 600;
}
@media print {
  .bar {
    display: none;
  }
}
</style>
