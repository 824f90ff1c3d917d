<script setup lang="ts" generic="T extends string | number | boolean">
/** A row of options, one of which is on. Pressed again it lets go, where nothing chosen is an answer. */
const props = defineProps<{
  modelValue: T | undefined
  options: readonly { value: T; label: string }[]
  label?: string
  labelledBy?: string
  firm?: boolean
}>()
const emit = defineEmits<{ 'update:modelValue': [value: T | undefined] }>()
const choose = (value: T): void => emit('update:modelValue', props.modelValue === value && !props.firm ? undefined : value)
</script>

<template>
  <div class="options flex flex-wrap" role="radiogroup" :aria-label="label" :aria-labelledby="labelledBy">
    <button
      v-for="option in options"
      :key="String(option.value)"
      type="button"
      role="radio"
      :aria-checked="modelValue === option.value"
      :class="{ on: modelValue === option.value }"
      @click="choose(option.value)"
    >
      {{ option.label }}
    </button>
  </div>
</template>

<style scoped>
button {
  min-height: 44px;
  padding: 0 var(--s3);
  border: 1px solid var(--soft);
  margin: 0 -1px -1px 0;
  background: var(--sheet);
  color: var(--ink);
  font: 600 var(--t3) var(--head);
  cursor: pointer;
}
button:hover {
  background: var(--wash);
}
.on,
.on:hover {
  background: var(--ink);
  color: var(--onInk);
}
</style>
