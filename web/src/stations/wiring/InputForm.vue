<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { reactive } from 'vue'
import { type InputAction, inputActionWords } from '@vectum/core'
import { useNamed } from './use-named.ts'

/** A switched input: its name and what the unit does on it. */
const props = defineProps<{ taken: string[] }>()
const emit = defineEmits<{ add: [id: string, input: { name: string; action: InputAction }] }>()
const typed = reactive({ name: '', action: 'idle-raise' as InputAction })
const { problem, tryAdd } = useNamed<{ name: string; action: InputAction }>(
  'inputs',
  () => props.taken,
  (id, value) => emit('add', id, value),
)
const go = (): void => void (tryAdd({ ...typed }) && (typed.name = ''))
</script>

<template>
  <div class="row">
    <n-input v-model:value="typed.name" size="large" placeholder="Air conditioning" :input-props="{ 'aria-label': 'Name of the input' }" />
    <select v-model="typed.action" aria-label="What the unit does">
      <option v-for="(words, id) in inputActionWords" :key="id" :value="id">{{ words }}</option>
    </select>
    <n-button size="large" data-testid="input-add" @click="go">Add the input</n-button>
  </div>
  <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
</template>

<style scoped>
.row > :first-child {
  max-width: 260px;
}
</style>
