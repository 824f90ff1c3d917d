<script setup lang="ts">
import { NButton, NCheckbox, NInput } from 'naive-ui'
import { ref } from 'vue'
import { useBuild } from '../../stores/build.ts'

/** Two people, an extinguisher, a stop word. */
const emit = defineEmits<{ recorded: [] }>()
const builds = useBuild()
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
  </div>
</template>

<style scoped>
.word {
  width: 190px;
}
</style>
