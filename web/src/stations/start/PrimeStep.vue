<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import QuantityField from '../../quantity/QuantityField.vue'
import { checkReading } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import { useLive } from '../../stores/live.ts'
import { useSettings } from '../../stores/settings.ts'
import { useStartDesk } from './use-start-desk.ts'

/** Pump fuse in, the unit primes, a person reads the gauge. */
const emit = defineEmits<{ recorded: [] }>()
const builds = useBuild()
const live = useLive()
const settings = useSettings()
const { on, running, busy, hands, prime, say } = useStartDesk()
const pressure = ref<number | undefined>()
function record(): void {
  builds.record('fuel.pressure', { pressureKpa: pressure.value, engineRunning: running.value }, { instrument: 'fuel gauge' })
  emit('recorded')
}
</script>

<template>
  <div>
    <p>Pump fuse in; the unit runs the pump for its few seconds and stops it. Read the gauge. No start yet.</p>
    <div class="act">
      <n-button v-if="!on && hands" size="large" :disabled="busy" @click="say('key', { on: true })">Key on</n-button>
      <n-button v-if="hands" type="primary" size="large" :disabled="busy || !on" data-testid="prime" @click="prime">Prime</n-button>
      <span class="gauge num">{{ settings.format(live.frame?.fuelPressureKpa ?? undefined, 'pressure') }}</span>
      <quantity-field
        v-model="pressure"
        label="Gauge reads"
        dimension="pressure"
        :check="(v) => checkReading('fuel.pressure', 'pressureKpa', v)"
      />
      <n-button :disabled="pressure === undefined" @click="record">Record</n-button>
    </div>
  </div>
</template>

<style scoped>
.gauge {
  font-size: var(--t5);
  line-height: 1;
  min-width: 120px;
}
</style>
