<script setup lang="ts">
import { NButton, useMessage } from 'naive-ui'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { useBuild } from '../../stores/build.ts'
import { useLive } from '../../stores/live.ts'
import ThrottleSlider from './ThrottleSlider.vue'
import { useStartDesk } from './use-start-desk.ts'

/** Timing held at one value, the damper read by light; the readings feed the fit at Spark. */
const builds = useBuild()
const live = useLive()
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
  const reply = await say('light')
  if (!reply.ok) return
  const seen = reply.data as { rpm: number; observedDeg: number; commandedDeg: number }
  if (!live.setting) {
    message.info(`The light shows ${seen.observedDeg}° at ${seen.rpm} rpm. The unit does not time the spark, so there is nothing to fit.`)
    return
  }
  const { referenceDeg, delayUs } = live.setting
  builds.record('spark.timing-light', { ...seen, referenceDeg, delayUs }, { instrument: 'bench timing light' })
  message.success(`Recorded: ${seen.observedDeg}° at ${seen.rpm} rpm, ${seen.commandedDeg}° commanded`)
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
