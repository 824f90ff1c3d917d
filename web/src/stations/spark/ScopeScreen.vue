<script setup lang="ts">
import { ref, watch } from 'vue'
import { LANE, paintLane, paintTrace, paintUpright, useRecordWindow, type Sheet } from '../../drawing/use-record-window.ts'
import type { ScopeRecord } from '../../workers/scope-worker.ts'

/** A record of a scope, a lane to each trace, with what is missing or too many marked and two cursors to be dragged. */
const props = defineProps<{
  record: ScopeRecord
  columns: (fromS: number, toS: number, width: number) => Promise<Float32Array[]>
  /** crank degrees a second and the moment counted from, for an axis in degrees; null: time */
  degrees: { perS: number; zeroS: number } | null
  marks: { timeS: number; kind: 'missing' | 'extra' }[]
  cursors: [number, number]
}>()
const emit = defineEmits<{ 'update:cursors': [[number, number]] }>()
const canvas = ref<HTMLCanvasElement | null>(null)
const LEFT = 98

function paint(sheet: Sheet<Float32Array[]>): void {
  const { g, colours, width, lanesHeight, x, have } = sheet
  props.record.traces.forEach((trace, k) => {
    paintLane(sheet, k, { name: trace.id, high: `${trace.high.toFixed(1)} ${trace.unit}`, low: `${trace.low.toFixed(1)} ${trace.unit}` })
    const lane = have?.columns[k]
    if (lane)
      paintTrace(sheet, k, LEFT, lane, { low: trace.low, high: trace.high, colour: trace.unit === 'A' ? colours.warn : colours.data })
  })
  g.textAlign = 'center'
  for (const mark of props.marks) {
    const at = x(mark.timeS)
    if (at < LEFT || at > width) continue
    g.fillStyle = colours.stop
    g.font = "600 16px 'Barlow Condensed', sans-serif"
    g.fillText(mark.kind === 'missing' ? '∅' : '+', at, 14)
    g.fillRect(at - 1, 18, 2, LANE - 24)
  }
  props.cursors.forEach((timeS, k) => {
    const at = paintUpright(sheet, LEFT, timeS, colours.ink)
    if (at === null) return
    g.font = "600 18px 'Barlow Condensed', sans-serif"
    g.fillText('AB'[k], at + 9, lanesHeight - 4)
  })
}
function grab(atS: number, reachS: number): ((atS: number) => void) | null {
  const near = props.cursors.findIndex((c) => Math.abs(c - atS) < reachS)
  if (near < 0) return null
  return (at) => {
    const next: [number, number] = [...props.cursors]
    next[near] = Math.min(props.record.seconds, Math.max(0, at))
    emit('update:cursors', next)
  }
}
const { height, zoom, whole, repaint, renew, hands } = useRecordWindow({
  canvas,
  seconds: () => props.record.seconds,
  left: LEFT,
  lanes: () => props.record.traces.length,
  closest: 20_000,
  columns: (fromS, toS, width) => props.columns(fromS, toS, width),
  shown: (timeS) => (props.degrees ? (timeS - props.degrees.zeroS) * props.degrees.perS : timeS * 1000),
  paint,
  grab,
})
defineExpose({ zoom, whole })
watch(
  () => props.record,
  () => {
    whole()
    renew()
  },
)
watch([() => props.cursors, () => props.degrees, () => props.marks], repaint)
</script>

<template>
  <canvas
    ref="canvas"
    class="record"
    tabindex="0"
    role="img"
    :style="{ height: `${height}px` }"
    :aria-label="`Scope record of ${record.traces.map((t) => t.id).join(', ')}; arrows move, plus and minus zoom, Home shows all`"
    v-on="hands"
  />
</template>
