<script setup lang="ts">
import { NButton, NCheckbox } from 'naive-ui'
import { computed, reactive } from 'vue'
import { floodedSince } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'

/** A flooded engine: recorded at once, and not turned until plugs are out and the oil has been looked at. */
const builds = useBuild()
const since = computed(() => floodedSince(builds.context!))
const seen = reactive({ pumpOff: false, plugsOut: false })
const ready = computed(() => seen.pumpOff && seen.plugsOut)
function clear(oilClean: boolean): void {
  builds.record('start.flood-cleared', { pumpOff: true, plugsOut: true, oilClean })
  seen.pumpOff = seen.plugsOut = false
}
</script>

<template>
  <div v-if="since" class="flood" role="alert">
    <strong class="head">Flooded. Do not turn the engine.</strong>
    <n-checkbox v-model:checked="seen.pumpOff" label="Pump off" />
    <n-checkbox v-model:checked="seen.plugsOut" label="Plugs out" />
    <n-button type="primary" :disabled="!ready" data-testid="oil-clean" @click="clear(true)">No fuel in the oil</n-button>
    <n-button :disabled="!ready" @click="clear(false)">Fuel in the oil</n-button>
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
