<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Axes, Block } from '@vectum/core'

/**
 * A table as a grid, manifold pressure up and engine speed across. One hue, the value always readable; a block is marked by its outline.
 * Fingers drag a block, keys stretch it; typing a number and Enter sets it.
 */
const props = defineProps<{
  axes: Axes
  cells: number[]
  decimals: number
  min: number
  max: number
  compare?: number[] | null
  /** the cell the engine is in now */
  operating?: { i: number; j: number } | null
  editable: boolean
  label: string
  /** what the rows count, when it is not manifold pressure */
  rowsAre?: string
}>()
const block = defineModel<Block>('block', { required: true })
const emit = defineEmits<{ set: [value: number]; step: [direction: 1 | -1]; undo: []; redo: []; paste: [text: string]; copy: [] }>()
const rows = computed(() => props.axes.mapKpa.map((map, j) => ({ map, j })).reverse())
const range = computed(() => ({ low: Math.min(...props.cells), high: Math.max(...props.cells) }))
const typed = ref('')
const dragging = ref(false)
const grid = ref<HTMLTableElement | null>(null)

const inside = (i: number, j: number) =>
  i >= Math.min(block.value.i0, block.value.i1) &&
  i <= Math.max(block.value.i0, block.value.i1) &&
  j >= Math.min(block.value.j0, block.value.j1) &&
  j <= Math.max(block.value.j0, block.value.j1)
const shade = (value: number) => {
  const share = (value - range.value.low) / Math.max(1e-9, range.value.high - range.value.low)
  return `color-mix(in srgb, var(--data) ${(4 + 34 * share).toFixed(0)}%, var(--sheet))`
}
const show = (c: number) => {
  if (!props.compare) return props.cells[c].toFixed(props.decimals)
  const change = props.cells[c] - props.compare[c]
  return Math.abs(change) < 0.5 * 10 ** -props.decimals ? '·' : `${change > 0 ? '+' : ''}${change.toFixed(props.decimals)}`
}

function press(i: number, j: number, event: PointerEvent): void {
  dragging.value = true
  typed.value = ''
  block.value = event.shiftKey ? { ...block.value, i1: i, j1: j } : { i0: i, j0: j, i1: i, j1: j }
  grid.value?.focus()
}
function over(event: PointerEvent): void {
  if (!dragging.value) return
  const cell = document.elementFromPoint(event.clientX, event.clientY)?.closest('td[data-i]') as HTMLElement | null
  if (cell) block.value = { ...block.value, i1: Number(cell.dataset.i), j1: Number(cell.dataset.j) }
}
function key(event: KeyboardEvent): void {
  if ((event.ctrlKey || event.metaKey) && ['z', 'y'].includes(event.key.toLowerCase())) {
    event.preventDefault()
    if (event.key.toLowerCase() === 'z' && !event.shiftKey) emit('undo')
    else emit('redo')
    return
  }
  if (event.ctrlKey || event.metaKey || event.altKey) return
  const move = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key]
  if (move) {
    event.preventDefault()
    const i = Math.min(props.axes.rpm.length - 1, Math.max(0, block.value.i1 + move[0]))
    const j = Math.min(props.axes.mapKpa.length - 1, Math.max(0, block.value.j1 + move[1]))
    block.value = event.shiftKey ? { ...block.value, i1: i, j1: j } : { i0: i, j0: j, i1: i, j1: j }
    typed.value = ''
    return
  }
  if (!props.editable) return
  if (event.key === 'Enter' && typed.value !== '') {
    const value = Number(typed.value.replace(',', '.'))
    if (Number.isFinite(value)) emit('set', value)
    typed.value = ''
  } else if (event.key === 'Escape') typed.value = ''
  else if (event.key === 'Backspace') typed.value = typed.value.slice(0, -1)
  else if (/^[0-9.,]$/.test(event.key)) typed.value += event.key
  else if (event.key === '-' && typed.value === '') emit('step', -1)
  else if (event.key === '+' || event.key === '=') emit('step', 1)
  else return
  event.preventDefault()
}
function paste(event: ClipboardEvent): void {
  if (!props.editable) return
  event.preventDefault()
  emit('paste', event.clipboardData?.getData('text/plain') ?? '')
}
</script>

<template>
  <div class="wrap">
    <table
      ref="grid"
      role="grid"
      tabindex="0"
      :aria-label="`${label}; engine speed across, manifold pressure up`"
      @keydown="key"
      @paste="paste"
      @copy.prevent="emit('copy')"
      @pointermove="over"
      @pointerup="dragging = false"
      @pointercancel="dragging = false"
    >
      <tbody>
        <tr v-for="row in rows" :key="row.j">
          <th scope="row">{{ row.map }}</th>
          <td
            v-for="(speed, i) in axes.rpm"
            :key="speed"
            class="head-t3 text-center h-34px line-a-sheet cursor-cell p-0"
            :data-i="i"
            :data-j="row.j"
            :class="{
              in: inside(i, row.j),
              anchor: i === block.i1 && row.j === block.j1,
              operating: operating?.i === i && operating?.j === row.j,
            }"
            :style="{ background: shade(cells[row.j * axes.rpm.length + i]) }"
            :aria-selected="inside(i, row.j)"
            @pointerdown="press(i, row.j, $event)"
          >
            {{ i === block.i1 && row.j === block.j1 && typed ? typed : show(row.j * axes.rpm.length + i) }}
          </td>
        </tr>
        <tr>
          <th></th>
          <th v-for="speed in axes.rpm" :key="speed" scope="col">{{ speed }}</th>
        </tr>
      </tbody>
    </table>
    <p class="soft mx-0 mt-1 mb-0 text-t1 pl-6">
      rpm across, {{ rowsAre ?? 'manifold pressure kPa' }} up{{ compare ? '; a number is the change from the other version' : '' }}
    </p>
  </div>
</template>

<style scoped>
.operating {
  box-shadow: inset 0 0 0 3px var(--stop);
}
table {
  border-collapse: collapse;
  width: 100%;
  table-layout: fixed;
  user-select: none;
  touch-action: none;
}
table:focus-visible {
  outline-offset: 3px;
}
th {
  font: 500 var(--t2) var(--head);
  color: var(--soft);
  padding: 2px var(--s1);
}
tbody th:first-child {
  width: 42px;
  text-align: right;
}
.in {
  box-shadow: inset 0 0 0 2px var(--ink);
}
.anchor {
  box-shadow: inset 0 0 0 3px var(--stop);
}
</style>
