<script setup lang="ts">
import { computed } from 'vue'
import { heldAnswers, unreleased } from '@vectum/core'
import RoomTabs from '../../kit/RoomTabs.vue'
import StationHead from '../../kit/StationHead.vue'
import { useRouteQuery } from '../../shell/use-route-query.ts'
import { useBuild } from '../../stores/build.ts'
import AnswerWalk from './AnswerWalk.vue'
import HelpPacket from './HelpPacket.vue'
import PrintedCard from './PrintedCard.vue'
import TemporaryAnswers from './TemporaryAnswers.vue'
import UnitFiles from './UnitFiles.vue'
import UnitThing from './UnitThing.vue'

/** The control unit beside the job line: what it is, what to answer, what it really holds, its files, and help from outside. */
const builds = useBuild()
const tabs = [
  { id: 'answers', title: 'Answers' },
  { id: 'card', title: 'Card to print' },
  { id: 'thing', title: 'The unit' },
  { id: 'files', title: 'Files' },
  { id: 'help', title: 'Help from outside' },
] as const
const tab = useRouteQuery('tab', 'answers')
const held = computed(() => heldAnswers(builds.context!))
const standing = computed(() => unreleased(builds.context!))
</script>

<template>
  <div v-if="builds.current && builds.context">
    <station-head title="Control unit" line="What does it ask, what was answered, and does it hold what was meant?" />
    <room-tabs v-model="tab" label="Control unit" :tabs="tabs" />
    <div class="pad">
      <template v-if="tab === 'answers'">
        <p v-if="!held.all.length" class="empty">
          The answers come from a tune. <router-link :to="{ name: 'tune', params: { id: builds.current.id } }">Compute one</router-link> at
          Base tune first.
        </p>
        <answer-walk v-else />
        <temporary-answers :standing="standing" />
      </template>
      <printed-card v-else-if="tab === 'card'" />
      <unit-thing v-else-if="tab === 'thing'" />
      <unit-files v-else-if="tab === 'files'" />
      <help-packet v-else />
    </div>
  </div>
</template>
