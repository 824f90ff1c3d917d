<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useSettings } from '../../stores/settings.ts'
import { palettes } from '../../theme.ts'
import type { ScopeRecord } from '../../workers/scope-worker.ts'

/**
 * A record drawn lane by lane. While it is moved the columns at hand are stretched to the new window at once; exact ones come from the worker a
 * moment later, so a picture never waits for the samples.
 */
const props = defineProps<{
  record: ScopeRecord
  columns: (fromS: number, toS: number, width: number) => Promise<Float32Array[]>
  /** crank degrees a second and the moment counted from, for an axis in degrees; null: time */
  degrees: { perS: number; zeroS: number } | null
  marks: { timeS: number; kind: 'missing' | 'extra' }[]
  cursors: [number, number]
}>()
const emit = defineEmits<{ 'update:cursors': [[number, number]] }>()
const settings = useSettings()
const canvas = ref<HTMLCanvasElement | null>(null)
const view = ref({ from: 0, to: props.record.seconds })
const LANE = 92
const AXIS = 34
const LEFT = 98
const height = computed(() => props.record.traces.length * LANE + AXIS)
let have: { from: number; to: number; width: number; lanes: Float32Array[] } | null = null
let asking = false
let askAgain = false
let painting = false

async function ask(): Promise<void> {
  if (asking) {
    askAgain = true
    return
  }
  const width = Math.max(50, Math.round((canvas.value?.clientWidth ?? 800) - LEFT))
  const { from, to } = view.value
  asking = true
  have = { from, to, width, lanes: await props.columns(from, to, width) }
  asking = false
  paintSoon()
  if (askAgain) {
    askAgain = false
    void ask()
  }
}
function paintSoon(): void {
  if (painting) return
  painting = true
  requestAnimationFrame(() => {
    painting = false
    paint()
  })
}
const span = computed(() => view.value.to - view.value.from)
const shown = (timeS: number) => (props.degrees ? (timeS - props.degrees.zeroS) * props.degrees.perS : timeS * 1000)

function paint(): void {
  const el = canvas.value
  const g = el?.getContext('2d')
  if (!el || !g) return
  const ratio = window.devicePixelRatio || 1
  const w = el.clientWidth
  if (el.width !== Math.round(w * ratio) || el.height !== Math.round(height.value * ratio)) {
    el.width = Math.round(w * ratio)
    el.height = Math.round(height.value * ratio)
  }
  const p = settings.dark ? palettes.dark : palettes.light
  g.setTransform(ratio, 0, 0, ratio, 0, 0)
  g.clearRect(0, 0, w, height.value)
  g.font = "500 16px 'Barlow Condensed', sans-serif"
  const x = (timeS: number) => LEFT + ((timeS - view.value.from) / span.value) * (w - LEFT)
  const axis = scaleLinear([shown(view.value.from), shown(view.value.to)], [LEFT, w])
  g.strokeStyle = p.hair
  g.fillStyle = p.soft
  g.textAlign = 'center'
  for (const tick of axis.ticks(Math.max(3, Math.round(w / 110)))) {
    const at = axis(tick)
    g.beginPath()
    g.moveTo(at, 0)
    g.lineTo(at, height.value - AXIS)
    g.stroke()
    g.textAlign = at > w - 24 ? 'right' : 'center'
    g.fillText(axis.tickFormat(8)(tick), Math.min(at, w - 2), height.value - 12)
  }
  props.record.traces.forEach((trace, k) => {
    const top = k * LANE
    const scale = scaleLinear([trace.low, trace.high === trace.low ? trace.low + 1 : trace.high], [top + LANE - 10, top + 10])
    g.fillStyle = p.ink
    g.textAlign = 'left'
    g.font = "600 18px 'Barlow Condensed', sans-serif"
    g.fillText(trace.id, 2, top + 26)
    g.fillStyle = p.soft
    g.font = "500 14px 'Barlow Condensed', sans-serif"
    g.fillText(`${trace.high.toFixed(1)} ${trace.unit}`, 2, top + 46)
    g.fillText(`${trace.low.toFixed(1)} ${trace.unit}`, 2, top + LANE - 10)
    g.strokeStyle = p.hair
    g.beginPath()
    g.moveTo(0, top + LANE)
    g.lineTo(w, top + LANE)
    g.stroke()
    const lane = have?.lanes[k]
    if (!have || !lane) return
    g.save()
    g.beginPath()
    g.rect(LEFT, top, w - LEFT, LANE)
    g.clip()
    g.strokeStyle = trace.unit === 'A' ? p.warn : p.data
    g.lineWidth = 1.5
    g.beginPath()
    const perColumn = (have.to - have.from) / have.width
    let first = true
    for (let c = 0; c < have.width; c++) {
      const low = lane[2 * c]
      if (Number.isNaN(low)) continue
      const at = x(have.from + (c + 0.5) * perColumn)
      if (first) g.moveTo(at, scale(low))
      else g.lineTo(at, scale(low))
      g.lineTo(at, scale(lane[2 * c + 1]))
      first = false
    }
    g.stroke()
    g.restore()
  })
  for (const mark of props.marks) {
    const at = x(mark.timeS)
    if (at < LEFT || at > w) continue
    g.fillStyle = p.stop
    g.textAlign = 'center'
    g.font = "600 16px 'Barlow Condensed', sans-serif"
    g.fillText(mark.kind === 'missing' ? '∅' : '+', at, 14)
    g.fillRect(at - 1, 18, 2, LANE - 24)
  }
  props.cursors.forEach((timeS, k) => {
    const at = x(timeS)
    if (at < LEFT || at > w) return
    g.fillStyle = p.ink
    g.fillRect(at - 1, 0, 2, height.value - AXIS)
    g.textAlign = 'center'
    g.font = "600 18px 'Barlow Condensed', sans-serif"
    g.fillText('AB'[k], at + 9, height.value - AXIS - 4)
  })
}

function look(from: number, to: number): void {
  const whole = props.record.seconds
  const width = Math.min(whole, Math.max(whole / 20_000, to - from))
  const start = Math.min(whole - width, Math.max(0, from))
  view.value = { from: start, to: start + width }
}
function zoom(by: number, around = (view.value.from + view.value.to) / 2): void {
  look(around - (around - view.value.from) * by, around + (view.value.to - around) * by)
}
const timeAt = (event: PointerEvent | WheelEvent): number => {
  const box = canvas.value!.getBoundingClientRect()
  return view.value.from + ((event.clientX - box.left - LEFT) / (box.width - LEFT)) * span.value
}
let dragging: { cursor: 0 | 1 } | { at: number; from: number } | null = null
function down(event: PointerEvent): void {
  canvas.value!.setPointerCapture(event.pointerId)
  const at = timeAt(event)
  const reach = (14 / (canvas.value!.clientWidth - LEFT)) * span.value
  const near = props.cursors.findIndex((c) => Math.abs(c - at) < reach)
  dragging = near >= 0 ? { cursor: near as 0 | 1 } : { at, from: view.value.from }
}
function move(event: PointerEvent): void {
  if (!dragging) return
  const at = timeAt(event)
  if ('cursor' in dragging) {
    const next: [number, number] = [...props.cursors]
    next[dragging.cursor] = Math.min(props.record.seconds, Math.max(0, at))
    emit('update:cursors', next)
  } else {
    const moved = at - dragging.at
    look(view.value.from - moved, view.value.to - moved)
  }
}
function key(event: KeyboardEvent): void {
  const step = span.value / 10
  const act = {
    ArrowLeft: () => look(view.value.from - step, view.value.to - step),
    ArrowRight: () => look(view.value.from + step, view.value.to + step),
    '+': () => zoom(0.7),
    '-': () => zoom(1 / 0.7),
    Home: () => look(0, props.record.seconds),
  }[event.key]
  if (!act) return
  event.preventDefault()
  act()
}
defineExpose({ zoom, whole: () => look(0, props.record.seconds) })

watch([view, () => props.record], () => {
  paintSoon()
  void ask()
})
watch(
  () => props.record,
  () => {
    have = null
    look(0, props.record.seconds)
  },
)
watch([() => props.cursors, () => props.degrees, () => props.marks, () => settings.dark, height], () => void nextTick(paintSoon))
let sizes: ResizeObserver | null = null
onMounted(() => {
  sizes = new ResizeObserver(() => {
    paintSoon()
    void ask()
  })
  sizes.observe(canvas.value!)
})
onBeforeUnmount(() => sizes?.disconnect())
</script>

<template>
  <canvas
    ref="canvas"
    tabindex="0"
    role="img"
    :style="{ height: `${height}px` }"
    :aria-label="`Scope record of ${record.traces.map((t) => t.id).join(', ')}; arrows move, plus and minus zoom, Home shows all`"
    @pointerdown="down"
    @pointermove="move"
    @pointerup="dragging = null"
    @pointercancel="dragging = null"
    @wheel.prevent="(e) => zoom(e.deltaY > 0 ? 1.15 : 1 / 1.15, timeAt(e))"
    @keydown="key"
  />
</template>

<style scoped>
canvas {
  width: 100%;
  display: block;
  touch-action: none;
  cursor: grab;
  background: var(--sheet);
  border: 1px solid var(--hair);
}
</style>
