<script setup lang="ts">
import { NButton, NCheckbox, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { latest } from '@vectum/core'
import { useBuild } from '../../stores/build.ts'

/** Two people, an extinguisher, a stop word. */
const builds = useBuild()
const emit = defineEmits<{ recorded: [] }>()
const prepared = ref({ batteryCharged: false, connectorsDone: false, chocked: false })
const allPrepared = computed(() => Object.values(prepared.value).every(Boolean))
const known = computed(() => latest(builds.context!.readings, 'start.prepared'))
function recordPrepared(): void {
  builds.record('start.prepared', { ...prepared.value })
  emit('recorded')
}
const stopWord = ref('')
const extinguisher = ref(false)
function record(): void {
  builds.record('start.safety', { extinguisher: true, helper: true, stopWord: stopWord.value.trim() })
  emit('recorded')
}
</script>

<template>
  <div>
    <p>
      Whoever turns the key and whoever looks for leaks are two people. Wheels chocked, neutral, brake on, exhaust led outside, sleeves and
      hair away from the fan.
    </p>
    <div class="act">
      <n-checkbox v-model:checked="extinguisher" size="large" data-testid="extinguisher"
        >Class B extinguisher within reach, pin seen</n-checkbox
      >
      <n-input v-model:value="stopWord" class="word" placeholder="stop word" :maxlength="40" :input-props="{ 'aria-label': 'Stop word' }" />
      <n-button type="primary" :disabled="!extinguisher || !stopWord.trim()" @click="record">Agreed, record it</n-button>
    </div>
    <div class="act">
      <n-checkbox v-model:checked="prepared.batteryCharged" size="large" data-testid="battery-charged">Battery charged today</n-checkbox>
      <n-checkbox v-model:checked="prepared.connectorsDone" size="large" data-testid="connectors-done"
        >Every connector on the list pushed home</n-checkbox
      >
      <n-checkbox v-model:checked="prepared.chocked" size="large" data-testid="chocked">Wheels chocked, out of gear, brake on</n-checkbox>
      <n-button :disabled="!allPrepared" data-testid="prepared" @click="recordPrepared">Record</n-button>
      <span v-if="known" class="clear">looked at</span>
    </div>
  </div>
</template>

<style scoped>
.word {
  width: 190px;
}
</style>
