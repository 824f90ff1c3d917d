<script setup lang="ts">
import { NButton } from 'naive-ui'
import EntryForm from '../../kit/EntryForm.vue'
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
async function readGauge(): Promise<void> {
  if (await builds.readBench('fuel.pressure')) emit('recorded')
}
</script>

<template>
  <div>
    <p>Pump fuse in; the unit runs the pump for its few seconds and stops it. Read the gauge. No start yet.</p>
    <div class="act">
      <template v-if="hands">
        <n-button v-if="!on" size="large" :disabled="busy" @click="say('key', { on: true })">Key on</n-button>
        <n-button type="primary" size="large" :disabled="busy || !on" data-testid="prime" @click="prime">Prime</n-button>
        <span class="gauge num text-t5 leading-none min-w-120px">{{
          settings.format(live.frame?.fuelPressureKpa ?? undefined, 'pressure')
        }}</span>
        <n-button dashed size="large" :disabled="!on" data-testid="bench-gauge" @click="readGauge">Bench: read the gauge</n-button>
      </template>
      <entry-form
        kind="fuel.pressure"
        :given="{ engineRunning: hands && running }"
        :without="['engineRunning', 'referenceKpa']"
        @recorded="emit('recorded')"
      />
    </div>
  </div>
</template>
