<script setup lang="ts">
import { NButton, useMessage } from 'naive-ui'
import { computed } from 'vue'
import { entryWords, latest } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import { useLive } from '../../stores/live.ts'
import ThrottleSlider from './ThrottleSlider.vue'
import { useStartDesk } from './use-start-desk.ts'

/** The starter, and the first minute. */
const live = useLive()
const message = useMessage()
const builds = useBuild()
const settings = useSettings()
const { on, running, busy, hands, byHand, prime, say } = useStartDesk()
const attempt = computed(() => latest(builds.context!.readings, 'start.attempt'))
const ran = computed(() => latest(builds.context!.readings, 'start.ran'))
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
    <template v-if="byHand && live.device !== 'line'">
      <h3>It runs: what the display shows, foot off</h3>
      <entry-form kind="start.run-shown" @made="(id) => builds.ask('start.ran', { entryIds: [id] })" />
      <p v-if="ran" class="clear" data-testid="ran">{{ entryWords('start.ran', ran.value, settings.units) }}.</p>
      <h3>It does not: what it showed while it was cranked</h3>
      <entry-form
        kind="start.crank-shown"
        :given="{ fuelled: true }"
        :without="['oilKpa']"
        @made="(id) => builds.ask('start.attempt', { entryIds: [id] })"
      />
      <p v-if="attempt" data-testid="attempt">{{ entryWords('start.attempt', attempt.value, settings.units) }}.</p>
    </template>
    <div v-else class="act">
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
