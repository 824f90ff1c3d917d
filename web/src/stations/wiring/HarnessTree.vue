<script setup lang="ts">
import { computed } from 'vue'
import { harnessTree, type Harness } from '@vectum/core'
import { useSettings } from '../../stores/settings.ts'

/** The harness as it lies on the bench: trunk and branches with their lengths, from the fuses outwards; the same data as the plan. */
const props = defineProps<{ harness: Harness; picked: string | null }>()
const settings = useSettings()
const rows = computed(() => harnessTree(props.harness))
const most = computed(() => Math.max(1, ...rows.value.map((r) => r.wires)))
const on = computed(() => new Set(props.harness.wires.find((w) => w.circuit.id === props.picked)?.run.through ?? []))
</script>

<template>
  <h2>The harness as a tree</h2>
  <ol class="tree" data-testid="harness-tree">
    <li
      v-for="r in rows"
      :key="r.id"
      class="flex gap-3 items-center min-h-30px break-inside-avoid"
      :style="{ paddingLeft: `${r.depth * 18}px` }"
      :class="{ on: on.has(r.id) }"
    >
      <span class="bar w-28px bg-ink flex-none" :style="{ height: `${2 + (10 * r.wires) / most}px` }" />
      <strong>{{ r.label }}</strong>
      <span class="num">{{ r.depth ? settings.format(r.lengthMm / 1000, 'distance') : '' }}</span>
      <span class="soft">{{ r.wires ? `${r.wires} ${r.wires === 1 ? 'wire' : 'wires'}` : '' }}</span>
    </li>
  </ol>
</template>

<style scoped>
.tree {
  list-style: none;
  padding: 0;
  columns: 2 420px;
}
.on strong {
  color: var(--data);
}
.on .bar {
  background: var(--data);
}
</style>
