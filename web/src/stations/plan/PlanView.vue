<script setup lang="ts">
import { useRouteQuery } from '../../shell/use-route-query.ts'
import { useBuild } from '../../stores/build.ts'
import StationHead from '../../kit/StationHead.vue'
import RoomTabs from '../../kit/RoomTabs.vue'
import CautionStrip from '../../shell/CautionStrip.vue'
import FileShelf from '../../shell/FileShelf.vue'
import PartsTable from './PartsTable.vue'
import ReuseList from './ReuseList.vue'
import RouteTable from './RouteTable.vue'
import ScheduleStrip from './ScheduleStrip.vue'
import SizeTable from './SizeTable.vue'
import ToolList from './ToolList.vue'
import UnitMatch from './UnitMatch.vue'
import WaysTable from './WaysTable.vue'

const builds = useBuild()
const tabs = [
  { id: 'route', title: 'Route' },
  { id: 'sizes', title: 'Sizes' },
  { id: 'ways', title: 'Ways' },
  { id: 'unit', title: 'Control unit' },
  { id: 'parts', title: 'Parts' },
  { id: 'tools', title: 'Tools' },
  { id: 'schedule', title: 'Schedule' },
] as const
const tab = useRouteQuery('tab', 'route')
</script>

<template>
  <div v-if="builds.current && builds.context">
    <station-head title="Plan" line="What suits this car, what it takes, and when it is done." />
    <room-tabs v-model="tab" label="Plan" :tabs="tabs" />
    <div class="py-4 px-0">
      <route-table v-if="tab === 'route'" />
      <size-table v-else-if="tab === 'sizes'" />
      <ways-table v-else-if="tab === 'ways'" />
      <unit-match v-else-if="tab === 'unit'" />
      <template v-else-if="tab === 'parts'"><parts-table /><reuse-list /></template>
      <tool-list v-else-if="tab === 'tools'" />
      <schedule-strip v-else />
    </div>
    <file-shelf item="plan" title="Plan" />
    <caution-strip station="plan" />
  </div>
</template>
