<script setup lang="ts">
import { NCheckbox } from 'naive-ui'
import { computed } from 'vue'
import { benchFaults, type FaultId } from '@vectum/core'
import CellInput from '../quantity/CellInput.vue'
import { useBuild } from '../stores/build.ts'
import BenchPanel from './BenchPanel.vue'

/** What is wrong with the bench car: set here, put right here, and known to nothing else on the page. */
const props = defineProps<{ ids: readonly FaultId[] }>()
const builds = useBuild()
const faults = computed(() => builds.current?.choices.bench?.faults ?? [])
const list = computed(() => props.ids.map((id) => ({ id, kind: benchFaults[id], set: faults.value.find((f) => f.id === id) })))
const count = computed(() => list.value.filter((f) => f.set).length)
function toggle(id: FaultId, on: boolean): void {
  const rest = faults.value.filter((f) => f.id !== id)
  const next = on ? [...rest, { id }] : rest
  builds.change('choices.bench.faults', next.length ? next : undefined)
}
function size(id: FaultId, text: string): void {
  const bounds = benchFaults[id].size!
  const value = Number(text.replace(',', '.'))
  if (!Number.isFinite(value) || text.trim() === '') return
  builds.change(
    'choices.bench.faults',
    faults.value.map((f) => (f.id === id ? { id, size: Math.min(bounds.max, Math.max(bounds.min, value)) } : f)),
  )
}
</script>

<template>
  <bench-panel
    title="Bench car"
    :note="`${count ? `${count} fault${count > 1 ? 's' : ''} set` : 'nothing wrong with it'}; readings marked “bench” come from it`"
  >
    <p class="soft">
      Set what is wrong, then find it with the steps as on a real car. Taking the mark away is putting it right with the spanner. No
      judgement looks here.
    </p>
    <ul>
      <li v-for="f in list" :key="f.id" class="flex flex-wrap gap-2 items-center min-h-44px">
        <n-checkbox :checked="!!f.set" :label="f.kind.title" @update:checked="(on: boolean) => toggle(f.id, on)" />
        <span v-if="f.set && f.kind.size" class="size">
          <cell-input
            :value="f.set.size ?? f.kind.size.usual"
            :label="`${f.kind.title}, ${f.kind.size.unit}`"
            numeric
            @commit="(t) => size(f.id, t)"
          />
          <small class="soft ml-2">{{ f.kind.size.unit }}, {{ f.kind.size.min }} to {{ f.kind.size.max }}</small>
        </span>
      </li>
    </ul>
  </bench-panel>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(330px, 1fr));
  gap: var(--s1) var(--s5);
}
.size :deep(input) {
  width: 74px;
}
</style>
