<script setup lang="ts">
import { computed } from 'vue'
import { supplyOf } from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { useSettings } from '../../stores/settings.ts'
import { fields } from './supply-fields.ts'
import { useHarness } from './use-harness.ts'

/** What each state of the car draws and gets: charging against loads, the battery between them, and the volts that arrive. */
const { c } = useHarness()
const settings = useSettings()
const supply = computed(() => supplyOf(c.value))
const titles = { off: 'Parked', accessory: 'Accessory', cranking: 'Cranking', idle: 'Idle, all on', cruise: 'Cruise' }
const most = computed(() => Math.max(1, ...supply.value.map((s) => Math.max(s.loadA, s.chargingA))))
const loads = computed(() => {
  const ids = new Map(supply.value.flatMap((s) => s.loads.map((l) => [l.id, l] as const)))
  return [...ids.values()].map((l) => ({ ...l, by: supply.value.map((s) => s.loads.find((x) => x.id === l.id) ?? null) }))
})
const volt = (v: number | undefined): string => (v === undefined ? '' : settings.format(v, 'voltage'))
const minutes = (m: number): string => (m > 600 ? `${Math.round(m / 60)} h` : `${Math.round(m)} min`)
</script>

<template>
  <section class="pad">
    <div class="grid grid-cols-[repeat(auto-fit,minmax(170px,1fr))] gap-4">
      <article v-for="s in supply" :key="s.state" :data-testid="`supply-${s.state}`">
        <h3>{{ titles[s.state] }}</h3>
        <strong class="big">{{ volt(s.nodes.plus) }}</strong>
        <div aria-hidden="true">
          <span :style="{ width: `${(100 * s.loadA) / most}%` }" class="load block h-9px my-1 mx-0 bg-ink" />
          <span :style="{ width: `${(100 * s.chargingA) / most}%` }" class="block h-9px my-1 mx-0 bg-data" />
        </div>
        <p>
          {{ settings.format(s.loadA, 'current') }} drawn{{ s.state === 'cranking' ? ' beside the starter' : '' }},
          {{ settings.format(s.chargingA, 'current') }} given
        </p>
        <p v-if="s.drainMin !== null" :class="s.drains ? 'warn' : 'soft'">{{ minutes(s.drainMin) }} until it no longer starts</p>
        <p v-else-if="s.chargingA > s.loadA" class="clear">charges with {{ settings.format(-s.batteryA, 'current') }}</p>
      </article>
    </div>
    <details class="soft">
      <summary>What stands for what nobody told</summary>
      <p v-for="s in supply" :key="s.state">{{ titles[s.state] }}: {{ s.assumed.join('; ') }}.</p>
    </details>
    <h2>Volts that arrive</h2>
    <div class="overflow-x-auto">
      <table class="border-collapse w-full">
        <thead>
          <tr>
            <th>At</th>
            <th v-for="s in supply" :key="s.state" class="text-right">{{ titles[s.state] }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in loads" :key="l.id">
            <th scope="row">{{ l.name }}</th>
            <td v-for="(x, i) in l.by" :key="i" class="text-right">{{ x ? volt(x.volt) : '' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="soft measure">
      The whole network is solved at once: battery, charging, straps, the wires as they are sized, and what hangs on them. A strap counts by
      its measured drop, else as usual.
    </p>
    <h2>What it is worked out with</h2>
    <div class="fields"><fact-field v-for="f in fields" :key="f.path" :field="f" /></div>
  </section>
</template>

<style scoped>
article {
  border-top: 3px solid var(--ink);
  padding-top: var(--s2);
}
p {
  margin: var(--s1) 0;
}
.big {
  font: 600 var(--t5) / 1.1 var(--head);
}
th,
td {
  text-align: left;
  font-weight: 400;
  padding: var(--s1) var(--s2);
  border-bottom: 1px solid var(--hair);
}
</style>
