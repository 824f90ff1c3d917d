<script setup lang="ts">
import { NButton, NInput, useMessage } from 'naive-ui'
import { computed, ref } from 'vue'
import { largestStep, type Tune } from '@vectum/core'
import type { useTuneEditor } from './use-tune-editor.ts'

/** What is done to the block of cells that is marked, and the steepest step that is left in the table. */
const props = defineProps<{ editor: ReturnType<typeof useTuneEditor>; tune: Tune }>()
const message = useMessage()
const { table, tables, spec, canUndo, canRedo } = props.editor
const amount = ref('')
function withAmount(use: (value: number) => void): void {
  const value = Number(amount.value.replace(',', '.'))
  if (amount.value.trim() === '' || !Number.isFinite(value)) {
    message.warning('Type a number first.')
    return
  }
  use(value)
}
const steepest = computed(() => {
  if (!tables.value) return null
  const { axes, tables: saved } = props.tune.document
  const { step, i, j } = largestStep(axes, tables.value[table.value])
  const was = largestStep(axes, saved[table.value]).step
  return { now: step, was: Math.abs(was - step) > 1e-9 ? was : null, rpm: axes.rpm[i], mapKpa: axes.mapKpa[j] }
})
</script>

<template>
  <div class="act tools gap-2">
    <n-input
      v-model:value="amount"
      placeholder="number"
      class="amount w-84px"
      :input-props="{ inputmode: 'decimal', 'aria-label': 'Number for the block' }"
    />
    <n-button @click="withAmount(editor.set)">Set</n-button>
    <n-button @click="withAmount(editor.add)">Add</n-button>
    <n-button @click="withAmount(editor.scale)">Scale %</n-button>
    <n-button @click="editor.interpolate()">Fill between corners</n-button>
    <n-button @click="editor.smooth()">Smooth</n-button>
    <n-button :disabled="!canUndo" @click="editor.undo()">Undo</n-button>
    <n-button :disabled="!canRedo" @click="editor.redo()">Redo</n-button>
    <span v-if="steepest" class="soft" data-testid="steepest"
      >largest step {{ steepest.now.toFixed(spec.decimals)
      }}{{ steepest.was !== null ? `, was ${steepest.was.toFixed(spec.decimals)}` : '' }}, at {{ steepest.rpm }} rpm,
      {{ steepest.mapKpa }} kPa</span
    >
  </div>
</template>

<style scoped>
.tools :deep(.n-button) {
  --n-padding: 0 11px !important;
}
</style>
