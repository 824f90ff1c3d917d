<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, reactive } from 'vue'
import { fuelDesign, fuelStates, returnFloor, type FuelDesign, type FuelStateId, type WhatIf } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'

/** Sliders over the design: what would happen with a low battery, hot fuel, a clogged filter. Nothing of it is kept. */
const props = defineProps<{ design: FuelDesign; state: FuelStateId }>()
const builds = useBuild()
const settings = useSettings()
const asked = reactive<WhatIf>({})
const sliders = computed(() => [
  {
    key: 'supplyV' as const,
    label: 'Supply voltage',
    min: 8,
    max: 15,
    step: 0.1,
    from: props.design.states[props.state].supplyV,
    show: (v: number) => settings.format(v, 'voltage', 1),
  },
  {
    key: 'fuelC' as const,
    label: 'Fuel temperature',
    min: -10,
    max: 65,
    step: 1,
    from: props.design.states[props.state].fluid.temperatureC,
    show: (v: number) => settings.format(v, 'temperature'),
  },
  { key: 'usePct' as const, label: 'Engine takes', min: 0, max: 200, step: 1, from: 100, show: (v: number) => `${v.toFixed(0)} %` },
  { key: 'clogged' as const, label: 'Fine filter takes', min: 1, max: 20, step: 0.5, from: 1, show: (v: number) => `${v} × new` },
  {
    key: 'setKpa' as const,
    label: 'Regulator set to',
    min: 100,
    max: 600,
    step: 5,
    from: props.design.circuit.regulator.setKpa,
    show: (v: number) => settings.format(v, 'pressure'),
  },
  {
    key: 'returnBoreMm' as const,
    label: 'Return bore',
    min: 3,
    max: 15,
    step: 0.1,
    from: null,
    show: (v: number) => settings.format(v, 'length'),
  },
])
const changed = computed(() => Object.values(asked).some((v) => v !== undefined))
const other = computed(() => (changed.value ? fuelDesign(builds.context!, { ...asked }) : null))
const rows = computed(() => {
  const pick = (d: FuelDesign) => {
    const s = d.solutions.find((one) => one.state === props.state)!
    return [s.railKpa, s.injectorDropKpa, s.pumpFlowLph, s.returnLph, s.marginPct, s.inletMarginKpa, returnFloor(d), s.pumpV]
  }
  const labels = [
    'At the injectors',
    'Across the injectors',
    'Pump flow',
    'Return flow',
    'Pump margin',
    'Margin against vapour',
    'Lowest that can be set',
    'Volts at the pump',
  ]
  const dimensions = ['pressure', 'pressure', 'pumpFlow', 'pumpFlow', 'percent', 'pressure', 'pressure', 'voltage'] as const
  const now = pick(props.design)
  const then = other.value ? pick(other.value) : null
  return labels.map((label, i) => ({
    label,
    now: settings.format(now[i], dimensions[i]),
    then: then ? settings.format(then[i], dimensions[i]) : null,
  }))
})
const statusOf = (d: FuelDesign | null) => d?.solutions.find((s) => s.state === props.state)?.regulator
const words = {
  holding: 'holds its pressure',
  'below-minimum': 'has too little return flow to hold',
  'wide-open': 'is wide open: the pressure creeps up',
  closed: 'is shut: all goes to the injectors',
  starved: 'is shut and the engine starves',
}
function clear(): void {
  for (const key of Object.keys(asked) as (keyof WhatIf)[]) delete asked[key]
}
</script>

<template>
  <section aria-label="What if">
    <div class="head-row">
      <h2>What if</h2>
      <span class="soft">{{ fuelStates.find((s) => s.id === state)!.title }}; nothing here is kept</span>
      <n-button v-if="changed" size="small" @click="clear">Back to the design</n-button>
    </div>
    <div class="both">
      <div class="sliders">
        <label v-for="s in sliders" :key="s.key" class="grid grid-cols-[128px_minmax(0,1fr)_74px] gap-3 items-center min-h-44px text-t2">
          <span>{{ s.label }}</span>
          <input
            type="range"
            :min="s.min"
            :max="s.max"
            :step="s.step"
            :value="asked[s.key] ?? s.from ?? 8"
            :aria-label="s.label"
            @input="asked[s.key] = Number(($event.target as HTMLInputElement).value)"
          />
          <strong class="num text-t3 text-right" :class="{ asked: asked[s.key] !== undefined }">{{
            asked[s.key] !== undefined ? s.show(asked[s.key]!) : s.from === null ? 'as drawn' : s.show(s.from)
          }}</strong>
        </label>
      </div>
      <table data-testid="what-if">
        <tbody>
          <tr v-for="r in rows" :key="r.label">
            <th scope="row">{{ r.label }}</th>
            <td class="num">{{ r.now }}</td>
            <td class="num then">{{ r.then && r.then !== r.now ? `→ ${r.then}` : '' }}</td>
          </tr>
          <tr>
            <th scope="row">The regulator</th>
            <td colspan="2" :class="{ stop: ['wide-open', 'closed', 'starved'].includes(statusOf(other ?? design)!) }">
              {{ words[statusOf(other ?? design)!] }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.both {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: var(--s5);
}
.asked {
  color: var(--data);
}
td[colspan] {
  font-size: var(--t2);
  white-space: normal;
}
.then {
  color: var(--data);
}
@media (max-width: 700px) {
  .both {
    grid-template-columns: 1fr;
  }
}
</style>
