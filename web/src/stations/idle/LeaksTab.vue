<script setup lang="ts">
import { computed } from 'vue'
import { entryWords, fitupOf, HOSE_RPM, openPorts, readingsOf, vacuumMap } from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import EntryStanding from '../../kit/EntryStanding.vue'
import { useSettings } from '../../stores/settings.ts'
import { useIdle } from './use-idle.ts'

/** Vacuum leaks: a hose at a time with the valve held still, or smoke; what was looked at so far. */
const { builds, c, air } = useIdle()
/** hoses as Fit-up leads them: where to clamp, and what is open by its map */
const mapped = computed(() => (fitupOf(c.value).vacuum ? vacuumMap(c.value) : null))
const led = computed(
  () =>
    mapped.value?.consumers.flatMap((x) => (x.port ? [`${x.name} at “${mapped.value!.ports.find((p) => p.id === x.port)!.name}”`] : [])) ??
    [],
)
const open = computed(() => (mapped.value ? openPorts(c.value) : []))
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
    <p v-if="led.length" data-testid="led-hoses">By the map of Fit-up: {{ led.join(', ') }}.</p>
    <p v-if="open.length" class="warn" data-testid="open-ports">
      Open by that map: {{ open.map((p) => `“${p.name}”, a hole of ${p.areaMm2.toFixed(0)} mm²`).join(', ')
      }}<template v-if="air?.leakMm2 != null">; the leak seen here is {{ air.leakMm2.toFixed(0) }} mm²</template>.
    </p>
    <h2>A hose clamped</h2>
    <entry-form kind="idle.hose" />
    <ul v-if="hoses.length" class="entries pl-4">
      <li v-for="r in hoses" :key="r.id">{{ entryWords('idle.hose', r.value, settings.units) }} <entry-standing :reading-id="r.id" /></li>
    </ul>
    <h2>All of it</h2>
    <entry-form kind="idle.leak-test" />
    <ul v-if="tests.length" class="entries pl-4">
      <li v-for="r in tests" :key="r.id">
        {{ entryWords('idle.leak-test', r.value, settings.units) }} <entry-standing :reading-id="r.id" />
      </li>
    </ul>
  </section>
</template>
