<script setup lang="ts">
import StationHead from '../../kit/StationHead.vue'
import RoomTabs from '../../kit/RoomTabs.vue'
import CautionStrip from '../../shell/CautionStrip.vue'
import { useRouteQuery } from '../../shell/use-route-query.ts'
import { useBuild } from '../../stores/build.ts'
import CoilTab from './CoilTab.vue'
import CurveTab from './CurveTab.vue'
import InterferenceTab from './InterferenceTab.vue'
import OrderTab from './OrderTab.vue'
import PhaseTab from './PhaseTab.vue'
import ScopeTab from './ScopeTab.vue'
import StepsTab from './StepsTab.vue'
import TachTab from './TachTab.vue'
import TimingLight from './TimingLight.vue'
import TriggerTab from './TriggerTab.vue'

const builds = useBuild()
const tabs = [
  { id: 'steps', title: 'Steps' },
  { id: 'trigger', title: 'Trigger' },
  { id: 'phase', title: 'Dial' },
  { id: 'order', title: 'Order' },
  { id: 'scope', title: 'Scope' },
  { id: 'light', title: 'Light' },
  { id: 'coil', title: 'Coil' },
  { id: 'curve', title: 'Old curve' },
  { id: 'tach', title: 'Tach' },
  { id: 'interference', title: 'Interference' },
] as const
const tab = useRouteQuery('tab', builds.current?.choices.spark?.trigger ? 'steps' : 'trigger')
</script>

<template>
  <div v-if="builds.current && builds.context" class="spark flex flex-col min-h-full">
    <station-head title="Spark" line="When does the pulse come, and which terminal is the rotor under?" />
    <caution-strip station="spark" />
    <room-tabs v-model="tab" label="Spark" :tabs="tabs" />
    <steps-tab v-if="tab === 'steps'" @go="tab = $event" />
    <trigger-tab v-else-if="tab === 'trigger'" />
    <scope-tab v-else-if="tab === 'scope'" />
    <phase-tab v-else-if="tab === 'phase'" />
    <section v-else-if="tab === 'light'" class="pad"><timing-light /></section>
    <order-tab v-else-if="tab === 'order'" />
    <coil-tab v-else-if="tab === 'coil'" />
    <curve-tab v-else-if="tab === 'curve'" />
    <tach-tab v-else-if="tab === 'tach'" />
    <interference-tab v-else />
  </div>
</template>
