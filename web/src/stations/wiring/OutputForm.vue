<script setup lang="ts">
import { NButton, NInput, NInputNumber } from 'naive-ui'
import { computed, reactive } from 'vue'
import { outputChannels, outputProblem, outputSentence, type OutputChannel, type OutputCondition } from '@vectum/core'
import { useNamed } from './use-named.ts'

/** An output by a condition: typed, shown as the sentence it means, and added. */
const props = defineProps<{ taken: string[] }>()
type Output = { name: string; when: OutputCondition }
const emit = defineEmits<{ add: [id: string, output: Output] }>()
const typed = reactive({
  name: '',
  channel: 'coolantC' as OutputChannel,
  on: 95 as number | null,
  off: 90 as number | null,
  delayS: null as number | null,
})
const { problem, tryAdd } = useNamed<Output>(
  'outputs',
  () => props.taken,
  (id, value) => emit('add', id, value),
)
const when = computed((): OutputCondition => ({
  channel: typed.channel,
  on: typed.on ?? NaN,
  off: typed.off ?? NaN,
  ...(typed.delayS ? { delayS: typed.delayS } : {}),
}))
const whole = computed(() => typed.on !== null && typed.off !== null)
const go = (): void => void (tryAdd({ name: typed.name, when: when.value }) && (typed.name = ''))
</script>

<template>
  <div class="row">
    <n-input v-model:value="typed.name" size="large" placeholder="Water pump" :input-props="{ 'aria-label': 'Name of the output' }" />
    <select v-model="typed.channel" aria-label="By which channel">
      <option v-for="(c, id) in outputChannels" :key="id" :value="id">{{ c.words }}, {{ c.unit }}</option>
    </select>
    <label class="field">On past <n-input-number v-model:value="typed.on" size="large" placeholder="" :show-button="false" /></label>
    <label class="field">Off past <n-input-number v-model:value="typed.off" size="large" placeholder="" :show-button="false" /></label>
    <label class="field">After, s <n-input-number v-model:value="typed.delayS" size="large" placeholder="" :show-button="false" /></label>
    <n-button size="large" data-testid="output-add" @click="go">Add the output</n-button>
  </div>
  <p v-if="whole" class="soft" data-testid="output-says">
    {{ outputSentence(when) }} <span v-if="outputProblem(when)" class="warn">{{ outputProblem(when) }}</span>
  </p>
  <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
</template>

<style scoped>
.row > * {
  max-width: 180px;
}
</style>
