<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { floodedSince } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import { useBuild } from '../../stores/build.ts'

/** A flooded engine: recorded at once, and not turned until plugs are out and the oil has been looked at. */
const builds = useBuild()
const since = computed(() => floodedSince(builds.context!))
</script>

<template>
  <div v-if="since" class="flood" role="alert">
    <strong class="head">Flooded. Do not turn the engine.</strong>
    <entry-form kind="start.flood-cleared" />
  </div>
  <div v-else class="ask">
    <n-button size="small" data-testid="flooded" @click="builds.record('start.flooded', {})">It flooded</n-button>
  </div>
</template>

<style scoped>
.flood {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 16px;
  align-items: center;
  border: 2px solid var(--stop);
  padding: 8px 14px;
  margin-bottom: 10px;
}
.ask {
  display: flex;
  justify-content: flex-end;
  margin-bottom: 6px;
}
.head {
  color: var(--stop);
  font-size: var(--t4);
}
</style>
