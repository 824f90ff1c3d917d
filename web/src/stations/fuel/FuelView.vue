<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import {
  checkFact,
  designOf,
  type FuelLayout,
  fuelStates,
  genericPumps,
  layoutChanges,
  schoolOf,
  missingForCircuit,
  pumpChart,
  type FuelElement,
  type FuelStateId,
  type SectionId,
} from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import OptionRow from '../../quantity/OptionRow.vue'
import RoomTabs from '../../kit/RoomTabs.vue'
import CautionStrip from '../../shell/CautionStrip.vue'
import FileShelf from '../../shell/FileShelf.vue'
import { useLanding } from '../../shell/landing.ts'
import { useRouteQuery } from '../../shell/use-route-query.ts'
import { useBuild } from '../../stores/build.ts'
import CircuitDrawing from './CircuitDrawing.vue'
import ElementEditor from './ElementEditor.vue'
import { panels, safetyFields } from './panel-fields.ts'
import ProofSteps from './ProofSteps.vue'
import PumpChartView from './PumpChart.vue'
import PumpEditor from './PumpEditor.vue'
import WhatIf from './WhatIf.vue'

const builds = useBuild()
const c = computed(() => builds.context!)
const fuel = computed(() => c.value.fuel)
const rooms = [
  { id: 'circuit', title: 'Circuit' },
  { id: 'proof', title: 'Set-up and proof' },
] as const
const tab = useRouteQuery('tab', 'circuit')
const state = useRouteQuery('state', 'idle')
const stateId = computed({
  get: () => (fuelStates.some((s) => s.id === state.value) ? state.value : 'idle') as FuelStateId,
  set: (id: string) => (state.value = id),
})
const design = computed(() => designOf(c.value))
const solution = computed(() => design.value?.solutions.find((s) => s.state === stateId.value) ?? null)
const chart = computed(() => (design.value ? pumpChart(design.value) : null))
const missing = computed(() => missingForCircuit(c.value))
const selected = ref<string | null>(null)
const landing = useLanding()
watch(landing.at, (at) => at && /^[a-z]+:/.test(at) && (selected.value = at), { immediate: true })
const picked = computed(() => {
  const [section, id] = (selected.value ?? '').split(':') as [SectionId, string | undefined]
  if (!id) return null
  const index = fuel.value[section]?.findIndex((e) => e.id === id) ?? -1
  return index < 0
    ? null
    : { section, index, branch: solution.value?.branches.find((b) => b.section === section && b.elementId === id) ?? null }
})
const layouts: { value: FuelLayout; label: string }[] = [
  { value: 'return', label: 'Return' },
  { value: 'returnless', label: 'Returnless' },
  { value: 'lift-sump', label: 'Lift and sump' },
  { value: 'surge-tank', label: 'Surge tank' },
]
function setLayout(layout: FuelLayout | undefined): void {
  if (!layout) return
  for (const [path, value] of layoutChanges(fuel.value, layout, c.value.plan.fuelPressureKpa, schoolOf(c.value, 'lines') === 'b'))
    builds.change(path, value)
  selected.value = null
}
function move(section: SectionId, from: number, to: number): void {
  const next: FuelElement[] = [...(fuel.value[section] ?? [])]
  const [moved] = next.splice(from, 1)
  next.splice(to, 0, moved)
  if (checkFact(`choices.fuel.${section}`, next) === null) builds.change(`choices.fuel.${section}`, next)
}
const panel = computed(() => (selected.value ? (panels[selected.value] ?? null) : null))
</script>

<template>
  <div v-if="builds.current && builds.context">
    <div class="station-head">
      <h1>Fuel</h1>
      <option-row :model-value="fuel.layout" :options="layouts" firm label="Layout" @update:model-value="setLayout" />
    </div>
    <caution-strip station="fuel" />
    <room-tabs v-model="tab" label="Fuel" :tabs="rooms" />
    <template v-if="tab === 'proof'">
      <proof-steps />
      <file-shelf item="fuel-system" title="Fuel system" />
    </template>
    <template v-else>
      <p v-if="!fuel.layout" class="empty">
        Choose a layout above. It brings a starting circuit with the lengths of a usual saloon; measure yours and change them on the
        drawing.
      </p>
      <template v-else>
        <room-tabs v-model="stateId" class="states border-0 mx-0 mt-3 mb-1" label="State" :tabs="fuelStates" />
        <circuit-drawing
          :fuel="fuel"
          :solution="solution"
          :selected="selected"
          @select="(k) => (selected = selected === k ? null : k)"
          @move="move"
        />
        <div v-if="!fuel.pump" class="flex flex-wrap gap-3 items-center my-2 mx-0">
          <strong>Which pump?</strong>
          <n-button v-for="g in genericPumps" :key="g.id" @click="builds.change('choices.fuel.pump', g.spec)">{{ g.label }}</n-button>
          <span class="soft">stand-ins; tap the pump to type its sheet</span>
        </div>
        <p v-if="missing.length" class="warn">{{ missing.join('. ') }}.</p>
        <element-editor
          v-if="picked"
          :key="selected!"
          v-bind="picked"
          :fluid="design?.states[stateId].fluid ?? null"
          @select="(k) => (selected = k)"
        />
        <section v-else-if="panel" class="boxed" :aria-label="panel.title">
          <h2>{{ panel.title }}</h2>
          <div class="fields"><fact-field v-for="f in panel.fields" :key="f.path" :field="f" /></div>
        </section>
        <p v-else class="soft text-t1 mx-0 mt-2px mb-3">
          Tap a thing to change it; drag it along its line, or ← → on it, to reorder. Pressures stand behind each thing.
        </p>
        <pump-editor v-if="selected === 'pump'" which="pump" />
        <pump-editor v-if="selected === 'lift-pump'" which="liftPump" />
        <div v-if="chart && design" class="lower">
          <pump-chart-view :chart="chart" :state="stateId" />
          <section aria-label="Cut-offs">
            <h2>Cut-offs and closures</h2>
            <div class="grid gap-2"><fact-field v-for="f in safetyFields" :key="f.path" :field="f" /></div>
          </section>
        </div>
        <what-if v-if="design" :design="design" :state="stateId" />
      </template>
    </template>
  </div>
</template>

<style scoped>
.states button {
  border: 1px solid var(--soft);
  margin-right: -3px;
}
.lower {
  display: grid;
  grid-template-columns: minmax(0, 1.25fr) minmax(0, 1fr);
  gap: var(--s5);
  align-items: start;
  margin: var(--s3) 0 var(--s4);
}
@media (max-width: 700px) {
  .lower {
    grid-template-columns: 1fr;
  }
}
</style>
