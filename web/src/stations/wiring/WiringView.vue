<script setup lang="ts">
import RoomTabs from '../../kit/RoomTabs.vue'
import StationHead from '../../kit/StationHead.vue'
import CautionStrip from '../../shell/CautionStrip.vue'
import FileShelf from '../../shell/FileShelf.vue'
import { useRouteQuery } from '../../shell/use-route-query.ts'
import { useBuild } from '../../stores/build.ts'
import ChecksTab from './ChecksTab.vue'
import CircuitsTab from './CircuitsTab.vue'
import MoreTab from './MoreTab.vue'
import PaperTab from './PaperTab.vue'
import RouteTab from './RouteTab.vue'
import SupplyTab from './SupplyTab.vue'

const builds = useBuild()
const tabs = [
  { id: 'route', title: 'Routes' },
  { id: 'circuits', title: 'Circuits' },
  { id: 'supply', title: 'Supply' },
  { id: 'checks', title: 'Checks' },
  { id: 'more', title: 'More on it' },
  { id: 'paper', title: 'Sheets' },
] as const
const tab = useRouteQuery('tab', 'route')
</script>

<template>
  <div v-if="builds.current && builds.context">
    <station-head title="Wiring" line="Every circuit on a wire and a fuse that fit, laid where nothing cooks, cuts or disturbs it." />
    <caution-strip station="wiring" />
    <room-tabs v-model="tab" label="Wiring" :tabs="tabs" />
    <route-tab v-if="tab === 'route'" />
    <circuits-tab v-else-if="tab === 'circuits'" />
    <supply-tab v-else-if="tab === 'supply'" />
    <checks-tab v-else-if="tab === 'checks'" />
    <more-tab v-else-if="tab === 'more'" />
    <paper-tab v-else />
    <file-shelf item="wiring" title="Wiring" />
  </div>
</template>
