<script setup lang="ts">
import { cellWords, leftAt, loadWords, signed } from './cell-words.ts'
import { computed } from 'vue'
import { type CellChange, learnedAt, type LearnCell, type LearnedTable, type LearnResult } from '@vectum/core'
import type { CellLayer } from './cell-words.ts'

/** Each cell says its state by shape and number: filled proven, tinted with a sign needs correction, dashed thin with seconds, a stroke passed through, blank untouched, barred unsafe. */
const props = defineProps<{
  result: Pick<LearnResult, 'rpm' | 'mapKpa' | 'cells'>
  show: CellLayer
  table?: LearnedTable | null
  /** what accepting would change in this table */
  changes?: readonly CellChange[]
  /** what tells the load: manifold pressure, or the throttle of each runner */
  by?: 'pressure' | 'throttle'
}>()
const unit = computed(() => loadWords[props.by ?? 'pressure'].unit)
const selected = defineModel<LearnCell | null>('selected')
const nr = computed(() => props.result.rpm.length)
const W = 52
const H = 33
const X0 = 42
const height = computed(() => props.result.mapKpa.length * H)
const x = (c: LearnCell) => X0 + c.i * W
const y = (c: LearnCell) => height.value - (c.j + 1) * H
function label(c: LearnCell): string {
  if (props.show === 'change') {
    const change = props.changes?.find((k) => k.i === c.i && k.j === c.j)
    return change ? signed(change.toPct - change.fromPct) : ''
  }
  if (props.show === 'table') return props.table ? signed(learnedAt(props.table, c.rpm, c.mapKpa)) : ''
  if (props.show === 'nearest') return c.nearestMeanPct === null ? '' : signed(c.nearestMeanPct)
  const { pct } = leftAt(c)
  if (pct === null) return ''
  if (props.show === 'learned') return c.learnedPct == null ? '' : signed(c.learnedPct)
  if (props.show === 'needed') return c.neededBasePct == null ? '' : signed(c.neededBasePct)
  if (props.show === 'correction') return c.state === 'thin' ? `(${signed(pct)})` : signed(pct)
  return c.state === 'thin' ? `${c.missingSeconds > 99 ? '99+' : Math.ceil(c.missingSeconds)} s` : signed(pct)
}
</script>

<template>
  <svg
    class="w-full"
    :viewBox="`0 0 ${X0 + nr * W + 4} ${height + 24}`"
    role="group"
    :aria-label="`Map of cells, engine speed across, ${loadWords[by ?? 'pressure'].name} up`"
  >
    <g
      v-for="c in result.cells"
      :key="c.j * nr + c.i"
      class="cell cursor-pointer"
      :class="[c.state, { on: selected === c }]"
      tabindex="0"
      role="button"
      :aria-label="`${c.rpm} rpm, ${c.mapKpa} ${unit}: ${cellWords[c.state]}${leftAt(c).pct === null ? '' : `, ${signed(leftAt(c).pct!)} percent`}`"
      @click="selected = c"
      @keydown.enter="selected = c"
    >
      <rect class="fill-paper" :x="x(c) + 1" :y="y(c) + 1" :width="W - 2" :height="H - 2" />
      <path
        v-if="c.state === 'passed-through' && !label(c)"
        :d="`M${x(c) + 13} ${y(c) + H - 9}L${x(c) + W - 13} ${y(c) + 9}`"
        class="stroke"
      />
      <path
        v-if="c.state === 'unsafe'"
        :d="`M${x(c) + 3} ${y(c) + H - 3}L${x(c) + 12} ${y(c) + H - 12}M${x(c) + W - 12} ${y(c) + 12}L${x(c) + W - 3} ${y(c) + 3}`"
        class="bar"
      />
      <text class="head-t3 fill-ink pointer-events-none" :x="x(c) + W / 2" :y="y(c) + H / 2 + 6" text-anchor="middle">{{ label(c) }}</text>
    </g>
    <text
      v-for="(m, j) in result.mapKpa"
      :key="`m${m}`"
      :x="X0 - 6"
      :y="height - j * H - H / 2 + 6"
      text-anchor="end"
      class="axis head-t3 fill-ink pointer-events-none"
    >
      {{ m }}
    </text>
    <text
      v-for="(r, i) in result.rpm"
      :key="`r${r}`"
      :x="X0 + i * W + W / 2"
      :y="height + 18"
      text-anchor="middle"
      class="axis head-t3 fill-ink pointer-events-none"
    >
      {{ r }}
    </text>
  </svg>
</template>

<style scoped>
.axis {
  fill: var(--soft);
  font-weight: 500;
  font-size: var(--t2);
}
.proven rect {
  fill: var(--clear);
}
.proven text {
  fill: var(--onInk);
}
.needs-correction rect {
  fill: color-mix(in srgb, var(--data) 38%, var(--sheet));
}
.thin rect {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-dasharray: 4 3;
}
.unsafe rect {
  fill: var(--stop);
}
.unsafe text {
  fill: var(--onInk);
}
.bar {
  stroke: var(--onInk);
  stroke-width: 3;
}
.stroke {
  stroke: var(--soft);
}
.on rect {
  stroke: var(--ink);
  stroke-width: 3.5;
}
</style>
