<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { feltKinds, type FeltKind, feltSays, type Moment, readingsOf, tuneInCar } from '@vectum/core'
import { RouterLink } from 'vue-router'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import { clock } from './clock.ts'

/** Moments that were marked while the log was taken: what was felt is said here, by whoever pressed. */
const props = defineProps<{ logId: string; marks: readonly { atS: number; moment: Moment }[] }>()
const builds = useBuild()
const settings = useSettings()
const list = computed(() => {
  const told = readingsOf(builds.context!.readings, 'learn.felt').filter((r) => r.value.logId === props.logId)
  return props.marks.map((m) => ({ ...m, felt: told.find((r) => Math.abs((r.value.atS ?? -1) - m.atS) < SAME_S)?.value ?? null }))
})
const SAME_S = 0.5
function say(what: FeltKind, { atS, moment }: { atS: number; moment: Moment }): void {
  builds.record('learn.felt', { what, moment, tuneId: tuneInCar(builds.current!)?.id ?? null, logId: props.logId, atS })
}
</script>

<template>
  <section v-if="list.length" aria-label="Marks in this log" data-testid="log-marks">
    <h3>Marked in this log</h3>
    <div v-for="m in list" :key="m.atS" class="act">
      <router-link class="num" :to="{ query: { tab: 'look', at: m.atS.toFixed(1) } }">{{ clock(m.atS) }}</router-link>
      <span
        >{{ m.moment.rpm.toFixed(0) }} rpm<template v-if="m.moment.mapKpa !== null">{{
          `, ${settings.format(m.moment.mapKpa, 'pressure')}`
        }}</template></span
      >
      <span v-if="m.felt" class="soft">{{ settings.say(feltSays(m.felt)) }}</span>
      <template v-else>
        <span>What was felt?</span>
        <n-button v-for="(words, id) in feltKinds" :key="id" @click="say(id, m)">{{ words }}</n-button>
      </template>
    </div>
  </section>
</template>
