<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { checkFact, type Harness, relayRing, type Wire } from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { pick, quantity, words, yesNo } from '../../quantity/field.ts'
import { useSettings } from '../../stores/settings.ts'
import { useHarness } from './use-harness.ts'

/** One circuit: why it is there, why its wire is as thick as it is, and what a person says otherwise. */
const props = defineProps<{ wire: Wire; harness: Harness }>()
const { change, wiring } = useHarness()
const settings = useSettings()
const base = computed(() => `choices.wiring.circuits.${props.wire.circuit.id}`)
const by = {
  strength: 'no thinner one holds',
  current: 'its current among its neighbours',
  drop: 'the voltage it may lose',
  fuse: 'the fuse it needs',
}
// the circuit stands over its fields: its name is not said again in each
const fields = computed(() => asked.value.map((f) => ({ ...f, label: f.label.split(', ')[0] })))
const now = (key: 'continuousA' | 'surgeA'): string => settings.format(props.wire.circuit[key], 'current')
/** circuits that may feed its relay's coil: none that would close a ring */
const coilSources = computed((): [string, string][] => {
  const edits = wiring.value.circuits ?? {}
  return props.harness.wires
    .filter(({ circuit: x }) => x.kind === 'feed' && x.id !== props.wire.circuit.id)
    .filter(({ circuit: x }) => !relayRing({ ...edits, [props.wire.circuit.id]: { coilFrom: x.id } }))
    .map(({ circuit: x }) => [x.id, x.name])
})
const asked = computed(() => [
  quantity(`${base.value}.continuousA`, 'current', `steady, by clamp or sheet; ${now('continuousA')} until then`),
  quantity(`${base.value}.surgeA`, 'current', `while it starts; ${now('surgeA')} until told`),
  quantity(
    `${base.value}.measuredM`,
    'distance',
    `laid with a string, one way; ${settings.format(props.wire.lengthM, 'distance')} by the plan`,
  ),
  quantity(`${base.value}.areaMm2`, 'wireArea', 'what is there, if another', 2),
  ...(props.wire.circuit.fused ? [quantity(`${base.value}.fuseA`, 'current', 'another than worked out; 0: none is fitted')] : []),
  ...(props.wire.circuit.relayWhy ? [yesNo(`${base.value}.relay`, props.wire.circuit.relayWhy)] : []),
  ...(props.wire.circuit.kind === 'output' ? [yesNo(`${base.value}.enabled`, 'switched on in the unit')] : []),
  ...(props.wire.circuit.relay
    ? [pick(`${base.value}.coilFrom`, coilSources.value, 'the unit or the key, unless it hangs on another circuit')]
    : []),
  yesNo(`${base.value}.tied`, 'a loop, and a tie within a hand’s breadth of both ends'),
  pick(`${base.value}.sleeve`, [
    [true, 'in a heat sleeve'],
    [false, 'bare'],
  ]),
  words(`${base.value}.colour`),
  words(`${base.value}.pin`, 'at the unit, as marked on it'),
  words(`${base.value}.note`),
])
const reason = ref('')
const problem = ref<string | null>(null)
function leaveOut(): void {
  problem.value = checkFact(`${base.value}.leftOut`, reason.value.trim())
  if (!problem.value) change(`circuits.${props.wire.circuit.id}.leftOut`, reason.value.trim())
}
</script>

<template>
  <div class="editor">
    <p>{{ wire.circuit.why }}<template v-for="a in wire.circuit.assumed" :key="a">; assumed: {{ a }}</template>.</p>
    <p v-if="wire.size" data-testid="wire-why">
      <strong>{{ settings.format(wire.size.areaMm2, 'wireArea', 2) }}</strong> (gauge {{ wire.gaugeAwg }}) by
      {{ wire.size.by ? by[wire.size.by] : 'your choice' }}: it bears {{ settings.format(wire.size.bearsA, 'current') }} among
      {{ wire.loadedWires }} loaded at {{ settings.format(wire.ambientC, 'temperature') }}, its copper stands at
      {{ settings.format(wire.size.copperC, 'temperature') }}, and it loses {{ settings.format(wire.size.dropV, 'voltage', 3) }} of
      {{ settings.format(wire.circuit.dropLimitV, 'voltage', 2) }}. Pins {{ wire.pins.from }} → {{ wire.pins.to }}.
    </p>
    <p v-else class="stop">No wire that shops have will do: a shorter way, or two circuits.</p>
    <div class="fields"><fact-field v-for="f in fields" :key="f.path" :field="f" /></div>
    <div class="row">
      <n-input v-model:value="reason" size="large" placeholder="not part of this harness, because" data-testid="left-out-reason" />
      <n-button size="large" data-testid="leave-out" @click="leaveOut">Leave it out</n-button>
    </div>
    <p v-if="problem" class="stop" role="alert">The reason {{ problem }}</p>
  </div>
</template>

<style scoped>
.editor {
  border-left: 4px solid var(--ink);
  padding: var(--s2) var(--s4);
}
.row > :first-child {
  max-width: 420px;
}
</style>
