<script setup lang="ts">
import { NButton, NInput, NInputNumber } from 'naive-ui'
import { computed, reactive } from 'vue'
import { type Gauge, gaugeProblem, type Sender } from '@vectum/core'
import { useNamed } from './use-named.ts'

/** A gauge on one of the senders: its name and what stands at both ends of its scale. */
const props = defineProps<{ taken: string[]; senders: readonly (readonly [string, Sender])[] }>()
const emit = defineEmits<{ add: [id: string, gauge: Gauge] }>()
const typed = reactive({ name: '', sender: '', low: null as number | null, high: null as number | null })
const sender = computed(() => typed.sender || props.senders[0][0])
const unit = computed(() => props.senders.find(([id]) => id === sender.value)?.[1].unit ?? '')
const { problem, tryAdd } = useNamed<Gauge>(
  'gauges',
  () => props.taken,
  (id, value) => emit('add', id, value),
)
const whole = computed((): Gauge => ({ name: typed.name, sender: sender.value, low: typed.low ?? NaN, high: typed.high ?? NaN }))
const misfit = computed(() =>
  typed.low === null || typed.high === null ? null : gaugeProblem(whole.value, props.senders.find(([id]) => id === sender.value)?.[1]),
)
function go(): void {
  if (tryAdd(whole.value)) Object.assign(typed, { name: '', low: null, high: null })
}
</script>

<template>
  <div class="row">
    <n-input v-model:value="typed.name" size="large" placeholder="Oil gauge" :input-props="{ 'aria-label': 'Name of the gauge' }" />
    <select :value="sender" aria-label="On which sender" @change="typed.sender = ($event.target as HTMLSelectElement).value">
      <option v-for="[id, s] in senders" :key="id" :value="id">{{ s.name }}</option>
    </select>
    <label class="field"
      >From, {{ unit }} <n-input-number v-model:value="typed.low" size="large" placeholder="" :show-button="false"
    /></label>
    <label class="field"
      >To, {{ unit }} <n-input-number v-model:value="typed.high" size="large" placeholder="" :show-button="false"
    /></label>
    <n-button size="large" data-testid="gauge-add" @click="go">Add the gauge</n-button>
  </div>
  <p v-if="problem ?? misfit" class="stop" role="alert">{{ problem ?? misfit }}</p>
</template>

<style scoped>
.row > * {
  max-width: 180px;
}
</style>
