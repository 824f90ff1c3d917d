<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { CoreError, displayUnit, parseQuantity, toDisplay, type Dimension } from '@vectum/core'
import { useSettings } from '../stores/settings.ts'

/**
 * A quantity typed with or without its unit ("58 psi", "4 bar", "3,18 L"), stored metric. What cannot be read or is out of bounds stays on
 * the screen with the reason and changes nothing.
 */
const props = defineProps<{
  modelValue: number | undefined
  label: string
  dimension: Dimension
  check?: (value: number | undefined) => string | null
  why?: string
  decimals?: number
  inputId?: string
  /** what stands in an empty box; left out: that the value is not known */
  placeholder?: string
}>()
const emit = defineEmits<{ 'update:modelValue': [value: number | undefined] }>()
const settings = useSettings()
const unit = computed(() => displayUnit(props.dimension, settings.units))
const text = ref('')
const problem = ref<string | null>(null)
const shown = computed(() => {
  if (props.modelValue === undefined) return ''
  const value = toDisplay(props.modelValue, unit.value)
  return String(Number(value.toFixed(props.decimals ?? Math.max(unit.value.decimals, 2))))
})
watch(
  shown,
  (value) => {
    if (problem.value === null) text.value = value
  },
  { immediate: true },
)

function commit(): void {
  if (text.value.trim() === '') {
    problem.value = null
    if (props.modelValue !== undefined) emit('update:modelValue', undefined)
    return
  }
  if (text.value === shown.value) {
    problem.value = null
    return
  }
  try {
    const value = Number(parseQuantity(text.value, props.dimension, settings.units, props.label).toPrecision(12))
    const refused = props.check?.(value) ?? null
    problem.value = refused ? `${props.label} ${refused}` : null
    if (!refused) emit('update:modelValue', value)
  } catch (error) {
    if (!(error instanceof CoreError)) throw error
    problem.value = error.message
  }
}
function undo(): void {
  problem.value = null
  text.value = shown.value
}
const fieldId = computed(() => props.inputId ?? `f-${props.label.replace(/\W+/g, '-').toLowerCase()}`)
</script>

<template>
  <div class="field min-w-0">
    <label :for="fieldId">{{ label }}</label>
    <div class="box flex items-center line-a-soft bg-sheet min-h-44px" :class="{ bad: problem }">
      <input
        :id="fieldId"
        v-model="text"
        inputmode="decimal"
        autocomplete="off"
        :aria-invalid="problem !== null"
        :aria-describedby="problem ? `${fieldId}-p` : undefined"
        :placeholder="placeholder ?? 'not known'"
        @change="commit"
        @keydown.enter="commit"
        @keydown.esc="undo"
      />
      <span class="unit soft pr-3 whitespace-nowrap">{{ unit.id }}</span>
    </div>
    <p v-if="problem" :id="`${fieldId}-p`" class="stop" role="alert">
      {{ problem }} <button class="plain undo underline text-inherit" @click="undo">put back</button>
    </p>
    <p v-else-if="why" class="soft">{{ why }}</p>
  </div>
</template>

<style scoped>
.box:focus-within {
  border-color: var(--data);
  box-shadow: inset 0 0 0 1px var(--data);
}
.bad {
  border: 2px solid var(--stop);
}
input {
  flex: 1;
  min-width: 0;
  border: 0;
  background: none;
  color: var(--ink);
  font: 600 var(--t4) var(--head);
  padding: 0 var(--s3);
  height: 42px;
  outline: none;
}
input::placeholder {
  color: var(--soft);
  font-weight: 500;
}
p {
  margin: 2px 0 0;
  font-size: var(--t1);
  line-height: 1.25;
}
</style>
