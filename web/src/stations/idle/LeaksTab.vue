<script setup lang="ts">
import { computed } from 'vue'
import { entryWords, HOSE_RPM, readingsOf } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import EntryStanding from '../../kit/EntryStanding.vue'
import { useSettings } from '../../stores/settings.ts'
import { useIdle } from './use-idle.ts'

/** Vacuum leaks: a hose at a time with the valve held still, or smoke; what was looked at so far. */
const { builds } = useIdle()
const settings = useSettings()
const hoses = computed(() => readingsOf(builds.saved?.readings ?? [], 'idle.hose'))
const tests = computed(() => readingsOf(builds.saved?.readings ?? [], 'idle.leak-test'))
</script>

<template>
  <section class="pad">
    <p class="measure">
      Hold the valve still (its port blocked, or its setting fixed), so that it does not make up for what you close. Clamp one hose at a
      time: brake booster, crankcase valve, canister, distributor can, pressure sensor, gearbox. A speed that changes by
      {{ HOSE_RPM }} rpm names the hose or what it leads to. Then the joints: smoke.
    </p>
    <h2>A hose clamped</h2>
    <entry-form kind="idle.hose" />
    <ul v-if="hoses.length" class="entries">
      <li v-for="r in hoses" :key="r.id">{{ entryWords('idle.hose', r.value, settings.units) }} <entry-standing :reading-id="r.id" /></li>
    </ul>
    <h2>All of it</h2>
    <entry-form kind="idle.leak-test" />
    <ul v-if="tests.length" class="entries">
      <li v-for="r in tests" :key="r.id">
        {{ entryWords('idle.leak-test', r.value, settings.units) }} <entry-standing :reading-id="r.id" />
      </li>
    </ul>
  </section>
</template>

<style scoped>
.entries {
  padding-left: var(--s4);
}
</style>
