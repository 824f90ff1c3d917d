<script setup lang="ts">
import { ref, watch } from 'vue'

/** A bare input of a table. What is being typed stays while the rest of the screen is drawn again, and is handed over when it is done. */
const props = defineProps<{ value: string | number; label: string; numeric?: boolean; maxlength?: number }>()
const emit = defineEmits<{ commit: [text: string] }>()
const text = ref(String(props.value))
const typing = ref(false)
watch(
  () => props.value,
  (now) => {
    if (!typing.value) text.value = String(now)
  },
)
function commit(): void {
  typing.value = false
  const typed = text.value
  emit('commit', typed)
  // refused or rounded: the cell shows what is kept
  text.value = String(props.value)
}
</script>

<template>
  <input
    v-model="text"
    class="cell"
    :inputmode="numeric ? 'decimal' : undefined"
    :aria-label="label"
    :maxlength="maxlength"
    autocomplete="off"
    @input="typing = true"
    @change="commit"
    @keydown.esc="text = String(value)"
  />
</template>

<style scoped>
.cell {
  min-height: 44px;
  border: 1px solid var(--soft);
  background: var(--sheet);
  color: var(--ink);
  font: 600 var(--t3) var(--head);
  padding: 0 var(--s2);
}
</style>
