import { computed, ref, watch, type Ref } from 'vue'
import type { TableName, Tune } from '@vectum/core'

/** Another version laid beside the one that is open: its cells of the same table, where both have the same axes. */
export function useComparedTune(tune: Ref<Tune | null>, table: Ref<TableName>, fetchTune: (id: string) => Promise<Tune>) {
  const compareWith = ref<string | null>(null)
  const other = ref<Tune | null>(null)
  watch(compareWith, async (id) => (other.value = id ? await fetchTune(id).catch(() => null) : null))
  const axes = (of: Tune): string => JSON.stringify(of.document.axes)
  const compareCells = computed(() =>
    other.value && tune.value && axes(other.value) === axes(tune.value) ? other.value.document.tables[table.value] : null,
  )
  return { compareWith, compareCells }
}
