<script setup lang="ts">
import { computed } from 'vue'
import { hasPedalMotor } from '@vectum/core'
import RoomTabs from '../../kit/RoomTabs.vue'
import StationHead from '../../kit/StationHead.vue'
import CautionStrip from '../../shell/CautionStrip.vue'
import FileShelf from '../../shell/FileShelf.vue'
import { useRouteQuery } from '../../shell/use-route-query.ts'
import { useBuild } from '../../stores/build.ts'
import BalanceTab from './BalanceTab.vue'
import BoltsTab from './BoltsTab.vue'
import BonnetTab from './BonnetTab.vue'
import BoxesTab from './BoxesTab.vue'
import CardSheets from './CardSheets.vue'
import CardsTab from './CardsTab.vue'
import LinkageTab from './LinkageTab.vue'
import PedalTab from './PedalTab.vue'
import PortsTab from './PortsTab.vue'
import SensorTab from './SensorTab.vue'

const builds = useBuild()
const motor = computed(() => hasPedalMotor(builds.context!))
const runners = computed(() => builds.context!.plan.route === 'individual-runner')
const tabs = computed(() => [
  { id: 'cards', title: 'Cards' },
  { id: 'bolts', title: 'Bolts' },
  { id: 'ports', title: 'Vacuum' },
  motor.value ? { id: 'pedal', title: 'Pedal' } : { id: 'linkage', title: 'Linkage' },
  { id: 'bonnet', title: 'Bonnet' },
  { id: 'sensor', title: 'Exhaust sensor' },
  { id: 'boxes', title: 'Boxes' },
  ...(runners.value ? [{ id: 'balance', title: 'Throttles alike' }] : []),
  { id: 'paper', title: 'Sheets' },
])
const tab = useRouteQuery('tab', 'cards')
</script>

<template>
  <div v-if="builds.current && builds.context">
    <station-head title="Fit-up" line="It shuts, seals, clears and reaches: seen, measured and recorded before power goes on." />
    <caution-strip station="fitup" />
    <room-tabs v-model="tab" label="Fit-up" :tabs="tabs" />
    <bolts-tab v-if="tab === 'bolts'" />
    <ports-tab v-else-if="tab === 'ports'" />
    <linkage-tab v-else-if="tab === 'linkage'" />
    <pedal-tab v-else-if="tab === 'pedal'" />
    <bonnet-tab v-else-if="tab === 'bonnet'" />
    <sensor-tab v-else-if="tab === 'sensor'" />
    <boxes-tab v-else-if="tab === 'boxes'" />
    <balance-tab v-else-if="tab === 'balance'" />
    <card-sheets v-else-if="tab === 'paper'" />
    <cards-tab v-else @room="(room) => (tab = room)" />
    <file-shelf item="fitup" title="Fit-up" />
  </div>
</template>
