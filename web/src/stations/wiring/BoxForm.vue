<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { reactive } from 'vue'
import { useNamed } from './use-named.ts'

/** A box with firmware in it, and the least version that another part wants of it. */
type Box = { name: string; firmware?: string; wantedBy?: string; least?: string }
const props = defineProps<{ taken: string[] }>()
const emit = defineEmits<{ add: [id: string, box: Box] }>()
const typed = reactive({ name: '', firmware: '', wantedBy: '', least: '' })
const labels = { name: 'Box', firmware: 'Version in it', wantedBy: 'Wanted by', least: 'Least version' } as const
const { problem, tryAdd } = useNamed<Box>(
  'boxes',
  () => props.taken,
  (id, value) => emit('add', id, value),
)
function go(): void {
  const box = Object.fromEntries(Object.entries(typed).filter(([, v]) => v.trim())) as Box
  if (tryAdd({ ...box, name: typed.name })) Object.assign(typed, { name: '', firmware: '', wantedBy: '', least: '' })
}
</script>

<template>
  <div class="row">
    <n-input
      v-for="(label, key) in labels"
      :key="key"
      v-model:value="typed[key]"
      class="max-w-200px"
      size="large"
      :placeholder="label"
      :input-props="{ 'aria-label': label }"
    />
    <n-button class="max-w-200px" size="large" data-testid="box-add" @click="go">Add the box</n-button>
  </div>
  <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
</template>
