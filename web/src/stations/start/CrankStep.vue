<script setup lang="ts">
import { NButton, useMessage } from 'naive-ui'
import { computed } from 'vue'
import { useLive } from '../../stores/live.ts'
import ThrottleSlider from './ThrottleSlider.vue'
import { useStartDesk } from './use-start-desk.ts'

/** The starter, and the first minute. */
const live = useLive()
const message = useMessage()
const { on, running, busy, hands, prime, say } = useStartDesk()
const cranking = computed(() => live.frame?.state === 'cranking')
async function saveTrace(): Promise<void> {
  const reply = await say('save-trace')
  if (reply.ok) message.success(`Trace saved as a log, ${(reply.data as { rows: number }).rows} rows`)
}
</script>

<template>
  <div>
    <p>
      {{
        running
          ? 'It runs. One light reading within the first minute; oil pressure, leaks; lambda comes towards its target, the fan comes on. A new flat-tappet cam: hold the speed its maker’s sheet says.'
          : 'Throttle shut. Hold the starter; let go when it fires. Ten seconds at most.'
      }}
    </p>
    <div class="act">
      <n-button v-if="!on && hands" size="large" :disabled="busy" @click="say('key', { on: true })">Key on</n-button>
      <n-button v-if="on && hands && !live.pumpAllowed" size="large" @click="prime">Prime</n-button>
      <n-button
        v-if="!running && hands"
        type="primary"
        size="large"
        :disabled="busy || !on"
        data-testid="crank"
        @click="say('crank', { on: !cranking })"
        >{{ cranking ? 'Let go' : 'Crank' }}</n-button
      >
      <n-button v-if="running || !hands" @click="saveTrace">Save the trace as a log</n-button>
      <throttle-slider v-if="hands" :max="100" />
    </div>
  </div>
</template>
