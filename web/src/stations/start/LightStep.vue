<script setup lang="ts">
import { NButton, useMessage } from 'naive-ui'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { entryWords } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import ThrottleSlider from './ThrottleSlider.vue'
import { useStartDesk } from './use-start-desk.ts'

/** Timing held at one value, the damper read by light; the readings feed the fit at Spark. */
const builds = useBuild()
const message = useMessage()
const router = useRouter()
const { running, hands, say } = useStartDesk()
const HELD_DEG = 15
const held = ref(false)
async function hold(): Promise<void> {
  held.value = !held.value
  const reply = await say('fix-timing', { advanceDeg: held.value ? HELD_DEG : null })
  if (!reply.ok) held.value = false
}
async function read(): Promise<void> {
  const entry = await builds.readBench('spark.timing-light', { live: true })
  if (entry) message.success(`Recorded: ${entryWords(entry.kind, entry.value)}`)
}
</script>

<template>
  <div>
    <p>Hold the advance at {{ HELD_DEG }}°, read the damper at idle and near 3,000 rpm. Mind the fan: sleeves, hair, leads.</p>
    <div class="act">
      <template v-if="hands">
        <n-button :type="held ? 'default' : 'primary'" size="large" :disabled="!running" @click="hold">{{
          held ? 'Release timing' : `Hold at ${HELD_DEG}°`
        }}</n-button>
        <n-button type="primary" size="large" :disabled="!running || !held" data-testid="light" @click="read">Read the light</n-button>
        <throttle-slider :max="60" />
      </template>
      <n-button @click="router.push({ name: 'spark', params: { id: builds.current!.id } })">See the fit at Spark</n-button>
    </div>
  </div>
</template>
