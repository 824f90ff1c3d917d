import { useLocalStorage } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import {
  addBlock,
  interpolateBlock,
  scaleBlock,
  setBlock,
  settle,
  smoothBlock,
  sparkCeiling,
  tableNames,
  tableSpecs,
  parameterSpecs,
  type ParameterKey,
  type TuneDocument,
  type TuneParameters,
  type Block,
  type Facts,
  type TableName,
  type Tune,
} from '@vectum/core'

type Tables = Record<TableName, number[]>
const HISTORY = 100

/** Edits on one tune version that are not saved yet: undo, redo, and a draft that survives a reload. */
/** @param facts of the car: smoothing never raises spark over its detonation guard */
export function useTuneEditor(tune: Ref<Tune | null>, facts: () => Facts = () => ({})) {
  const drafts = useLocalStorage<Record<string, Tables>>('vectum.tune-drafts', {})
  const table = ref<TableName>('ve')
  const block = ref<Block>({ i0: 0, j0: 0, i1: 0, j1: 0 })
  const past = ref<Tables[]>([])
  const future = ref<Tables[]>([])
  watch(
    () => tune.value?.id,
    () => {
      past.value = []
      future.value = []
    },
  )
  const tables = computed<Tables | null>(() => (tune.value ? (drafts.value[tune.value.id] ?? tune.value.document.tables) : null))
  const edited = computed(
    () =>
      !!tune.value &&
      !!drafts.value[tune.value.id] &&
      tableNames.some((n) => drafts.value[tune.value!.id][n].join() !== tune.value!.document.tables[n].join()),
  )
  const spec = computed(() => tableSpecs[table.value])

  function write(next: Tables): void {
    if (!tune.value) return
    drafts.value = { ...drafts.value, [tune.value.id]: next }
  }
  function edit(change: (cells: number[]) => number[]): void {
    if (!tables.value) return
    past.value = [...past.value, tables.value].slice(-HISTORY)
    future.value = []
    write({ ...tables.value, [table.value]: settle(change(tables.value[table.value]), spec.value) })
  }
  const axes = computed(() => tune.value!.document.axes)
  const set = (value: number) => edit((cells) => setBlock(axes.value, cells, block.value, value))
  const add = (amount: number) => edit((cells) => addBlock(axes.value, cells, block.value, amount))
  const scale = (pct: number) => edit((cells) => scaleBlock(axes.value, cells, block.value, pct))
  const interpolate = () => edit((cells) => interpolateBlock(axes.value, cells, block.value))
  const ceiling = () =>
    table.value === 'spark' ? sparkCeiling({ facts: facts() }, axes.value, tune.value!.document.parameters.barometerKpa) : undefined
  const smooth = () => edit((cells) => smoothBlock(axes.value, cells, block.value, ceiling()))
  function undo(): void {
    const before = past.value.at(-1)
    if (!before || !tables.value) return
    future.value = [...future.value, tables.value]
    past.value = past.value.slice(0, -1)
    write(before)
  }
  function redo(): void {
    const after = future.value.at(-1)
    if (!after || !tables.value) return
    past.value = [...past.value, tables.value]
    future.value = future.value.slice(0, -1)
    write(after)
  }
  /** Rows of tab-separated numbers, top row highest, as they come from a spreadsheet; returns what is wrong with them, if anything. */
  function pasteTsv(text: string): string | null {
    const rows = text
      .trim()
      .split(/\r?\n/)
      .map((row) => row.split('\t').map((cell) => Number(cell.trim().replace(',', '.'))))
    if (rows.some((row) => row.some((v) => !Number.isFinite(v)))) return 'What was copied is not all numbers; nothing was changed.'
    const { rpm } = axes.value
    const top = Math.max(block.value.j0, block.value.j1)
    const left = Math.min(block.value.i0, block.value.i1)
    if (left + rows[0].length > rpm.length || top - rows.length + 1 < 0)
      return `The block is ${rows[0].length} by ${rows.length} and does not fit from this cell; nothing was changed.`
    edit((cells) => {
      const next = [...cells]
      rows.forEach((row, r) => row.forEach((v, k) => (next[(top - r) * rpm.length + left + k] = v)))
      return next
    })
    block.value = { i0: left, j0: top, i1: left + rows[0].length - 1, j1: top - rows.length + 1 }
    return null
  }
  function blockTsv(): string {
    const { i0, i1, j0, j1 } = block.value
    const lines: string[] = []
    for (let j = Math.max(j0, j1); j >= Math.min(j0, j1); j--) {
      const row: number[] = []
      for (let i = Math.min(i0, i1); i <= Math.max(i0, i1); i++) row.push(tables.value![table.value][j * axes.value.rpm.length + i])
      lines.push(row.join('\t'))
    }
    return lines.join('\n')
  }
  function forget(): void {
    if (!tune.value) return
    const { [tune.value.id]: _, ...rest } = drafts.value
    drafts.value = rest
    past.value = []
    future.value = []
  }
  return {
    table,
    block,
    tables,
    edited,
    spec,
    set,
    add,
    scale,
    interpolate,
    smooth,
    undo,
    redo,
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
    pasteTsv,
    blockTsv,
    forget,
  }
}

/** A version's document with edited tables and parameters; what was changed says by whose hand. */
export function editedDocument(from: Tune, tables: TuneDocument['tables'], parameters: TuneParameters): TuneDocument {
  const { document, number } = from
  const keys = (Object.keys(parameterSpecs) as ParameterKey[]).filter(
    (key) => JSON.stringify(document.parameters[key]) !== JSON.stringify(parameters[key]),
  )
  const changed: string[] = [...tableNames.filter((n) => tables[n].join() !== document.tables[n].join()), ...keys]
  const by = `edited by hand from version ${number}`
  return {
    ...document,
    tables,
    parameters,
    provenance: { ...document.provenance, ...Object.fromEntries(changed.map((n) => [n, by])) },
  }
}
