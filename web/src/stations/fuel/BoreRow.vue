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
  <div class="bores" role="group" aria-label="Usual sizes">
    <button v-for="b in tried" :key="b.size" :class="{ on: Math.abs(b.boreMm - line.boreMm) < 0.05 }" @click="emit('take', b.boreMm)">
      <strong class="head">{{ b.size.replace(/^(hard|hose) /, '') }}</strong>
      <small>{{ settings.format(b.dropKpa, 'pressure', 2) }}</small>
    </button>
  </div>
</template>

<style scoped>
.bores {
  display: flex;
  flex-wrap: wrap;
  margin-top: var(--s2);
}
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
strong {
  display: block;
  font-size: var(--t3);
}
.on {
  background: var(--ink);
  color: var(--onInk);
}
</style>
