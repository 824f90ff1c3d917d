<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, reactive, ref, watch } from 'vue'
import {
  checkReading,
  CoreError,
  ignitionInstruments,
  latest,
  parseFiringOrder,
  readIgnition,
  type Dimension,
  type HeldAt,
  type IgnitionInstrument,
  type EntryKind,
} from '@vectum/core'
import QuantityField from '../../quantity/QuantityField.vue'
import { useBuild } from '../../stores/build.ts'

/** What a person enters for one kind of reading: its numbers, the answers that record it, and the bench's instrument for it. */
const props = defineProps<{ kind: EntryKind; step: string; at?: HeldAt }>()
const builds = useBuild()
const c = computed(() => builds.context!)

interface Ask {
  fields?: { key: string; label: string; dimension: Dimension }[]
  answers: { label: string; value: () => Record<string, unknown>; first?: boolean }[]
  instrument?: string
}
const sweep = () => ({ referenceDeg: c.value.spark.referenceDeg, alignDegBtdc: c.value.spark.alignDegBtdc })
const asks: Partial<Record<EntryKind, Ask>> = {
  'spark.done': { answers: [{ label: 'Done', value: () => ({ step: props.step }), first: true }] },
  'spark.zero-mark': {
    fields: [{ key: 'offsetDeg', label: 'Mark is off by', dimension: 'angle' }],
    answers: [
      { label: 'Record zero mark', value: () => ({ method: 'piston-stop' }), first: true },
      { label: 'Store it as a correction', value: () => ({ method: 'piston-stop', dealt: 'stored' }) },
      { label: 'Marked anew', value: () => ({ method: 'piston-stop', dealt: 're-marked' }) },
    ],
    instrument: 'piston stop',
  },
  'spark.lock-out': {
    answers: [
      { label: 'Nothing moves', value: () => ({ moves: false }), first: true },
      { label: 'It moves', value: () => ({ moves: true }) },
    ],
  },
  'spark.stroke': {
    answers: [
      { label: 'In step', value: () => ({ method: 'thumb', inStep: true }), first: true },
      { label: 'A turn out', value: () => ({ method: 'thumb', inStep: false }) },
    ],
  },
  'spark.fitted': { answers: [{ label: 'Set at the reference', value: sweep, first: true }], instrument: 'paper tape' },
  'spark.air-gap': {
    fields: [
      { key: 'leastMm', label: 'Least in a turn', dimension: 'length' },
      { key: 'mostMm', label: 'Most in a turn', dimension: 'length' },
    ],
    answers: [{ label: 'Record', value: () => ({}), first: true }],
    instrument: 'feeler blades',
  },
  'spark.polarity': {
    answers: [
      { label: 'Right', value: () => ({ right: true, method: 'scope' }), first: true },
      { label: 'Wrong way round', value: () => ({ right: false, method: 'scope' }) },
    ],
  },
  'spark.signal': {
    fields: [
      { key: 'noiseV', label: 'Noise, peak', dimension: 'voltage' },
      { key: 'crankingV', label: 'Cranking, peak', dimension: 'voltage' },
    ],
    answers: [{ label: 'Record', value: () => ({}), first: true }],
    instrument: 'scope',
  },
  'spark.slack': {
    fields: [{ key: 'crankDeg', label: 'Crank turned back', dimension: 'angle' }],
    answers: [{ label: 'Record', value: () => ({}), first: true }],
    instrument: 'paper tape',
  },
  'spark.cam-lamp': {
    fields: [{ key: 'crankDegBtdc', label: 'Lamp changes at', dimension: 'angle' }],
    answers: [{ label: 'Record', value: () => ({}), first: true }],
  },
  'spark.phase-seen': {
    fields: [
      { key: 'advanceDeg', label: 'Advance, on the marks', dimension: 'angle' },
      { key: 'beforeTerminalDeg', label: 'Rotor before terminal', dimension: 'angle' },
    ],
    answers: [{ label: 'Record', value: () => ({}), first: true }],
    instrument: 'timing light',
  },
  'spark.coil-current': {
    fields: [
      { key: 'batteryV', label: 'Battery', dimension: 'voltage' },
      { key: 'peakA', label: 'Peak by clamp', dimension: 'current' },
    ],
    answers: [{ label: 'Record', value: () => ({}), first: true }],
    instrument: 'clamp meter',
  },
}
const ask = computed(() => asks[props.kind] ?? null)
const typed = reactive<Record<string, number | undefined>>(
  props.kind === 'spark.zero-mark' ? { offsetDeg: latest(c.value.readings, 'spark.zero-mark')?.value.offsetDeg ?? 0 } : {},
)
// the offset last read is the one to be dealt with
watch(
  () => latest(c.value.readings, 'spark.zero-mark')?.value.offsetDeg,
  (offsetDeg) => {
    if (props.kind === 'spark.zero-mark' && offsetDeg !== undefined) typed.offsetDeg = offsetDeg
  },
)
const complete = computed(() => (ask.value?.fields ?? []).every((f) => typed[f.key] !== undefined))
function answer(value: Record<string, unknown>): void {
  const numbers = Object.fromEntries((ask.value?.fields ?? []).map((f) => [f.key, typed[f.key]]))
  builds.record(props.kind, { ...numbers, ...value }, ask.value?.instrument ? { instrument: ask.value.instrument } : {})
}

const order = ref('')
const orderProblem = ref<string | null>(null)
function recordOrder(text: string): void {
  const cylinders = parseFiringOrder(text)
  const wanted = c.value.facts.engine?.firingOrder?.length ?? 0
  orderProblem.value =
    cylinders?.length === wanted && wanted > 0
      ? null
      : `Order seen must name ${wanted} cylinders, such as ${c.value.facts.engine?.firingOrder?.join('-') ?? '1-3-4-2'}`
  if (!orderProblem.value) builds.record('spark.order', { cylinders })
}

const instrument = computed(() => (props.kind in ignitionInstruments ? ignitionInstruments[props.kind as IgnitionInstrument] : null))
const refused = ref<string | null>(null)
function take(): void {
  refused.value = null
  try {
    builds.record(props.kind, readIgnition(builds.current!, props.kind as IgnitionInstrument, props.at ?? {}), {
      instrument: `bench: ${instrument.value!.title}`,
    })
  } catch (e) {
    if (!(e instanceof CoreError)) throw e
    refused.value = e.message
  }
}
</script>

<template>
  <div class="record">
    <template v-if="ask">
      <quantity-field
        v-for="f in ask.fields ?? []"
        :key="f.key"
        v-model="typed[f.key]"
        :label="f.label"
        :dimension="f.dimension"
        :input-id="`${kind.replace('.', '-')}-${f.key}`"
        :check="(v) => checkReading(kind, f.key, v)"
      />
      <n-button
        v-for="a in ask.answers"
        :key="a.label"
        size="large"
        :type="a.first ? 'primary' : 'default'"
        :disabled="!complete"
        @click="answer(a.value())"
        >{{ a.label }}</n-button
      >
    </template>
    <template v-else-if="kind === 'spark.order'">
      <label class="order"
        >Order seen <input v-model="order" :placeholder="c.facts.engine?.firingOrder?.join('-')" @keydown.enter="recordOrder(order)"
      /></label>
      <n-button size="large" type="primary" :disabled="!order" @click="recordOrder(order)">Record</n-button>
      <n-button size="large" @click="recordOrder(c.facts.engine?.firingOrder?.join('-') ?? '')">As the engine fires</n-button>
      <p v-if="orderProblem" class="stop" role="alert">{{ orderProblem }}</p>
    </template>
    <n-button v-if="instrument" size="large" dashed class="bench" :data-testid="`bench-${kind}`" @click="take"
      >Bench: {{ instrument.title }}</n-button
    >
    <small v-if="instrument" class="soft acc">{{ instrument.accuracy }}, {{ instrument.minutes }} min</small>
    <p v-if="refused" class="stop" role="alert">{{ refused }}</p>
  </div>
</template>

<style scoped>
.record {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
}
.record :deep(.field) {
  width: 170px;
}
.order {
  font-size: var(--t2);
  font-weight: 600;
  display: grid;
}
.order input {
  min-height: 44px;
  width: 190px;
  border: 1px solid var(--soft);
  background: var(--sheet);
  color: var(--ink);
  font: 600 var(--t4) var(--head);
  padding: 0 10px;
}
.acc {
  align-self: center;
}
p {
  width: 100%;
  margin: 0;
}
</style>
