<script setup lang="ts">
import { computed } from 'vue'
import { boreTable, elementFlow, type Fluid, type FuelElement } from '@vectum/core'
import { useSettings } from '../../stores/settings.ts'

/** The usual sizes of a line beside the one it has: what each would take at this flow. */
const props = defineProps<{ line: FuelElement & { kind: 'line' }; flowLph: number; fluid: Fluid }>()
const emit = defineEmits<{ take: [boreMm: number] }>()
const settings = useSettings()
const tried = computed(() =>
  boreTable
    .filter((b) => b.material === props.line.material)
    .map((b) => ({ ...b, ...elementFlow({ ...props.line, boreMm: b.boreMm }, props.flowLph, props.fluid) })),
)
</script>

<template>
  <div class="bores flex flex-wrap mt-2" role="group" aria-label="Usual sizes">
    <button v-for="b in tried" :key="b.size" :class="{ on: Math.abs(b.boreMm - line.boreMm) < 0.05 }" @click="emit('take', b.boreMm)">
      <strong class="head block text-t3">{{ b.size.replace(/^(hard|hose) /, '') }}</strong>
      <small>{{ settings.format(b.dropKpa, 'pressure', 2) }}</small>
    </button>
  </div>
</template>

<style scoped>
button {
  min-height: 44px;
  border: 1px solid var(--soft);
  margin-right: -1px;
  background: var(--sheet);
  color: var(--ink);
  padding: 2px var(--s3);
  cursor: pointer;
}
small {
  font: 500 var(--t1) var(--head);
}
.on {
  background: var(--ink);
  color: var(--onInk);
}
</style>
