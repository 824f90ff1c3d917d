<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { tuneInCar, type EntryKind } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import EntryStanding from '../../kit/EntryStanding.vue'
import { useBuild } from '../../stores/build.ts'

/** What no log can tell of a unit that learns by itself: a leak, a sensor that reads wrong, and whether what was learned stays. */
const builds = useBuild()
const tuneId = computed(() => tuneInCar(builds.current!)?.id)
const checks: { kind: EntryKind; title: string; why: string }[] = [
  {
    kind: 'learn.exhaust',
    title: 'Is the exhaust tight up to the sensor?',
    why: 'Outside air there reads as a lean engine, and the unit learns fuel for it.',
  },
  { kind: 'learn.meter', title: 'Does the sensor tell the truth?', why: 'What it reads wrong is learned wrong, everywhere alike.' },
  {
    kind: 'unit.saved',
    title: 'Does it keep what it learned?',
    why: 'When it has settled: save, key off for 10 s or more, key on, and look. Go back to a state saved before when what was learned since is poison.',
  },
]
const last = (kind: EntryKind): string | undefined => builds.current!.readings.findLast((r) => r.kind === kind)?.id
const rehearsing = computed(() => builds.view === 'rehearsal')
</script>

<template>
  <section v-for="c in checks" :key="c.kind" class="boxed">
    <h2>{{ c.title }}</h2>
    <p class="soft">{{ c.why }}</p>
    <entry-standing v-if="last(c.kind)" :reading-id="last(c.kind)!" />
    <n-button v-if="rehearsing" dashed size="large" :data-testid="`bench-${c.kind}`" @click="builds.readBench(c.kind, { live: true })"
      >Bench: look</n-button
    >
    <entry-form v-if="c.kind !== 'unit.saved' || tuneId" :kind="c.kind" :given="c.kind === 'unit.saved' ? { tuneId } : {}" />
  </section>
</template>
