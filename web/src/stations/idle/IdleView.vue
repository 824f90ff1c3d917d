<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, onBeforeUnmount, onMounted, watch } from 'vue'
import { carFaultIds } from '@vectum/core'
import RoomTabs from '../../kit/RoomTabs.vue'
import StopBar from '../../kit/StopBar.vue'
import BenchFaults from '../../shell/BenchFaults.vue'
import CautionStrip from '../../shell/CautionStrip.vue'
import { useRouteQuery } from '../../shell/use-route-query.ts'
import { useBuild } from '../../stores/build.ts'
import { useLive } from '../../stores/live.ts'
import { useSettings } from '../../stores/settings.ts'
import BenchHands from '../start/BenchHands.vue'
import ClockPick from '../start/ClockPick.vue'
import DevicePick from '../start/DevicePick.vue'
import LiveNumbers from '../start/LiveNumbers.vue'
import { provideStartDesk } from '../start/use-start-desk.ts'
import AirTab from './AirTab.vue'
import ControllerTab from './ControllerTab.vue'
import DaysTab from './DaysTab.vue'
import LeaksTab from './LeaksTab.vue'
import LoadsTab from './LoadsTab.vue'
import StartsTab from './StartsTab.vue'
import TraceTab from './TraceTab.vue'
import { provideIdle } from './use-idle.ts'

const builds = useBuild()
const settings = useSettings()
const live = useLive()
const desk = provideStartDesk()
const { on, running, hands, refusal, say, prime, stopAll } = desk
const { streams } = provideIdle(desk)
onMounted(() => live.open(builds.current!.id))
watch(
  () => live.device,
  (device) => {
    if (device === 'line') builds.view = 'car'
  },
)
// the session goes on at the server; only this screen lets go
onBeforeUnmount(() => live.close())
const tabs = [
  { id: 'air', title: 'Air' },
  { id: 'trace', title: 'Trace' },
  { id: 'controller', title: 'Controller' },
  { id: 'leaks', title: 'Leaks' },
  { id: 'loads', title: 'Loads' },
  { id: 'starts', title: 'Starts' },
  { id: 'days', title: 'Days apart' },
] as const
const tab = useRouteQuery('tab', 'air')
/** what the bench car waits for before it idles */
const wait = computed(() => {
  if (!hands.value || running.value) return null
  if (!on.value) return { label: 'Key on', go: () => say('key', { on: true }) }
  if (!live.pumpAllowed) return { label: 'Prime', go: prime }
  return live.frame?.state === 'cranking'
    ? { label: 'Let go', go: () => say('crank', { on: false }) }
    : { label: 'Crank', go: () => say('crank', { on: true }) }
})
</script>

<template>
  <div v-if="builds.current && builds.context" class="flex flex-col min-h-full">
    <div class="station-head">
      <h1>Idle</h1>
      <device-pick v-if="live.state === 'up'" />
      <p v-else-if="live.state === 'refused'">{{ live.why }}</p>
      <p v-else>{{ live.state === 'lost' ? 'link lost, trying again; if an engine runs, use the key' : 'connecting to the bench' }}</p>
    </div>
    <caution-strip station="idle" />
    <div v-if="live.stopped" class="alarm" role="alert">
      <strong>Stopped by the app:</strong> {{ settings.say(live.stopped) }}. Find the cause at First start before the key goes on again.
    </div>
    <div v-if="refusal" class="alarm" role="alert" data-testid="refusal">
      <strong>{{ refusal.detail }}</strong> First start holds what opens it.
    </div>
    <live-numbers v-if="streams" :frame="live.frame" />
    <div v-if="wait" class="act">
      <n-button size="large" type="primary" data-testid="idle-start" @click="wait.go">{{ wait.label }}</n-button>
      <span class="soft">the bench car must idle warm before it is judged</span>
    </div>
    <room-tabs v-model="tab" label="Idle" :tabs="tabs" />
    <air-tab v-if="tab === 'air'" />
    <trace-tab v-else-if="tab === 'trace'" />
    <controller-tab v-else-if="tab === 'controller'" />
    <leaks-tab v-else-if="tab === 'leaks'" />
    <loads-tab v-else-if="tab === 'loads'" />
    <starts-tab v-else-if="tab === 'starts'" />
    <days-tab v-else />
    <template v-if="hands">
      <bench-hands />
      <bench-faults :ids="carFaultIds" />
    </template>
    <stop-bar @stop="stopAll">
      <clock-pick />
    </stop-bar>
  </div>
</template>
