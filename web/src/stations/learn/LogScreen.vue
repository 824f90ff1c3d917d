<script setup lang="ts">
import { ref, watch } from 'vue'
import { channelDimension, channelSpecs, type StretchFate } from '@vectum/core'
import { paintLane, paintTrace, paintUpright, useRecordWindow, LANE, type Sheet } from '../../drawing/use-record-window.ts'
import { useSettings } from '../../stores/settings.ts'
import type { Channel } from '../../workers/log-worker.ts'
import { clock } from './clock.ts'

/** Channels of a log, a lane to each, over a window of its time; rows that no solve uses stand on a shade, marks as flags, one cursor to read at. */
export interface LogColumns {
  /** by channel: an answer may come after other lanes were asked for */
  traces: Partial<Record<Channel, Float32Array>>
  fates: (StretchFate | null)[]
}
export interface LogLane {
  channel: Channel
  /** drawn dashed in the same lane, to the same scale */
  beside?: Channel
  low: number
  high: number
}
const props = defineProps<{
  logId: string
  durationS: number
  lanes: readonly LogLane[]
  columns: (wanted: Channel[], fromS: number, toS: number, width: number) => Promise<LogColumns>
  marks: readonly number[]
  cursorS: number
  /** what each channel reads there */
  values: Readonly<Record<string, number>>
}>()
const emit = defineEmits<{ cursor: [atS: number]; step: [rows: number]; seen: [part: { from: number; to: number }] }>()
const settings = useSettings()
const canvas = ref<HTMLCanvasElement | null>(null)
const LEFT = 128
const wanted = (): Channel[] => props.lanes.flatMap((l) => (l.beside ? [l.channel, l.beside] : [l.channel]))

const left = (fate: StretchFate | null): boolean => fate !== null && fate !== 'used'

function paint(sheet: Sheet<LogColumns>): void {
  const { g, colours, width, lanesHeight, x, have } = sheet
  if (have) {
    const perColumn = (have.to - have.from) / have.width
    g.fillStyle = colours.wash
    const { fates } = have.columns
    for (let from = 0, to = 0; from < fates.length; from = to) {
      while (to < fates.length && left(fates[to]) === left(fates[from])) to++
      const [atFrom, atTo] = [Math.max(LEFT, x(have.from + from * perColumn)), Math.min(width, x(have.from + to * perColumn))]
      if (left(fates[from]) && atTo > atFrom) g.fillRect(atFrom, 0, atTo - atFrom, lanesHeight)
    }
  }
  props.lanes.forEach((lane, k) => {
    const said = (v: number) => settings.format(v, channelDimension[lane.channel])
    const { low, high } = lane
    paintLane(
      sheet,
      k,
      { name: channelSpecs[lane.channel].label, value: said(props.values[lane.channel]), low: said(low), high: said(high) },
      LEFT - 8,
    )
    const own = have?.columns.traces[lane.channel]
    const other = lane.beside && have?.columns.traces[lane.beside]
    if (other) paintTrace(sheet, k, LEFT, other, { ...lane, colour: colours.soft, dashed: true })
    if (own) paintTrace(sheet, k, LEFT, own, { ...lane, colour: colours.data })
  })
  for (const atS of props.marks) {
    const at = paintUpright(sheet, LEFT, atS, colours.warn)
    if (at !== null) g.fillRect(at, 0, 14, 9)
  }
  paintUpright(sheet, LEFT, props.cursorS, colours.ink)
}
const { view, height, look, zoom, whole, repaint, renew, hands } = useRecordWindow({
  canvas,
  seconds: () => props.durationS,
  left: LEFT,
  lanes: () => props.lanes.length,
  closest: 40_000,
  columns: (fromS, toS, width) => props.columns(wanted(), fromS, toS, width),
  shown: (atS) => atS,
  tick: clock,
  paint,
  grab: (atS, reachS) => (Math.abs(atS - props.cursorS) < reachS ? (at) => emit('cursor', at) : null),
  tap: (atS) => emit('cursor', atS),
  keys: { ',': () => emit('step', -1), '.': () => emit('step', 1) },
})
/** Brings a moment into the middle, as close as the window is now. */
function centre(atS: number, closeS = view.value.to - view.value.from): void {
  look(atS - closeS / 2, atS + closeS / 2)
}
defineExpose({ zoom, whole, centre })
watch(view, (now) => emit('seen', now), { immediate: true })
watch(
  () => props.logId,
  () => {
    whole()
    renew()
  },
)
watch(() => props.lanes, renew)
watch([() => props.cursorS, () => props.values, () => props.marks, () => settings.units], repaint)
</script>

<template>
  <canvas
    ref="canvas"
    class="record"
    tabindex="0"
    role="img"
    :style="{ height: `${height}px`, minHeight: `${LANE}px` }"
    :aria-label="`${lanes.map((l) => channelSpecs[l.channel].label).join(', ')} over time; a tap reads a moment, arrows move, plus and minus zoom, Home shows all, comma and point go row by row`"
    v-on="hands"
  />
</template>
