<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { reactive, ref } from 'vue'
import { type Sender, senderProblem } from '@vectum/core'
import OptionRow from '../../quantity/OptionRow.vue'
import { useNamed } from './use-named.ts'

/** A sender: what it gives, and its calibration as pairs, one a line: signal, then value. */
const props = defineProps<{ taken: string[] }>()
const emit = defineEmits<{ add: [id: string, sender: Sender] }>()
const typed = reactive({ name: '', unit: '', signal: 'ohm' as Sender['signal'], points: '' })
const signals = [
  { value: 'ohm' as const, label: 'ohm' },
  { value: 'volt' as const, label: 'volts' },
]
const { problem, tryAdd } = useNamed<Sender>(
  'senders',
  () => props.taken,
  (id, value) => emit('add', id, value),
)
const unreadable = ref<string | null>(null)
function go(): void {
  const lines = typed.points
    .split(/\n+/)
    .map((l) => l.trim())
    .filter(Boolean)
  const points = lines.map((l) => l.split(/[\s;]+/).map((n) => Number(n.replace(',', '.'))))
  const bad = points.findIndex((p) => p.length !== 2 || p.some((n) => !Number.isFinite(n)))
  unreadable.value = bad >= 0 ? `line ${bad + 1}, "${lines[bad]}": two numbers are wanted, signal and value` : null
  if (unreadable.value) return
  const sender: Sender = {
    name: typed.name,
    unit: typed.unit,
    signal: typed.signal,
    points: points.map(([signal, value]) => ({ signal, value })),
  }
  unreadable.value = points.length ? senderProblem(sender) : 'two points or more are wanted'
  if (!unreadable.value && tryAdd(sender)) Object.assign(typed, { name: '', points: '' })
}
</script>

<template>
  <div class="row">
    <n-input v-model:value="typed.name" size="large" placeholder="Oil pressure" :input-props="{ 'aria-label': 'Name of the sender' }" />
    <n-input v-model:value="typed.unit" size="large" placeholder="kPa" :input-props="{ 'aria-label': 'Unit of its value' }" />
    <option-row v-model="typed.signal" :options="signals" firm label="It gives" />
    <n-input
      v-model:value="typed.points"
      type="textarea"
      size="large"
      placeholder="240 0&#10;103 350&#10;33 700"
      :input-props="{ 'aria-label': 'Calibration: signal and value, one pair a line' }"
    />
    <n-button size="large" data-testid="sender-add" @click="go">Add the sender</n-button>
  </div>
  <p v-if="unreadable || problem" class="stop" role="alert">{{ unreadable ?? problem }}</p>
</template>

<style scoped>
.row > * {
  max-width: 220px;
}
</style>
