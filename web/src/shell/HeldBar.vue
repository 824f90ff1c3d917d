<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useBuild } from '../stores/build.ts'
import { useMe } from '../stores/me.ts'

/** What was typed on this screen by somebody who is not signed in now: it waits here for them. */
const builds = useBuild()
const me = useMe()
const things = (count: number) => (count === 1 ? 'One thing waits' : `${count} things wait`)
</script>

<template>
  <template v-for="h in builds.held" :key="h.name ?? ''">
    <p v-if="h.name !== null" class="held" role="status">
      {{ things(h.count) }} here for {{ h.name }}, who typed {{ h.count === 1 ? 'it' : 'them' }} on this screen; sent when
      {{ h.name }} signs in here.
    </p>
    <div v-else class="held act" role="status">
      <span>{{ things(h.count) }} here from before anybody signed in. Whose?</span>
      <n-button size="small" data-testid="held-mine" @click="builds.signHeld(true)">Mine: send as {{ me.signer?.name }}</n-button>
      <n-button size="small" @click="builds.signHeld(false)">Let go of</n-button>
    </div>
  </template>
</template>

<style scoped>
.held {
  border: 2px solid var(--warn);
  padding: var(--s2) var(--s3);
  margin: 0 0 var(--s3);
}
</style>
