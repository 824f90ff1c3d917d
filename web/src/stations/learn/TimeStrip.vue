<script setup lang="ts">
import { computed, ref } from 'vue'
import type { StretchFate } from '@vectum/core'
import { fateWords } from './fate-words.ts'
import SeenPart from './SeenPart.vue'

/**
 * A log from end to end: lowest and highest in each slice, so nothing short is lost; under it which stretches were used, and why the others were not.
 * With `seen` the part that is looked at closely stands out, and a press or a drag moves it.
 */
const props = defineProps<{
  columns: Float32Array
  fates?: readonly (StretchFate | null)[]
  durationS: number
  label: string
  seen?: { from: number; to: number }
}>()
const emit = defineEmits<{ go: [atS: number] }>()
const slices = computed(() => props.columns.length / 2)
/** stretches of one fate, in slices */
const stretches = computed(() => {
  const list: { fate: StretchFate; from: number; to: number }[] = []
  props.fates?.forEach((fate, k) => {
    const last = list.at(-1)
    if (last?.fate === fate && last.to === k) last.to = k + 1
    else if (fate) list.push({ fate, from: k, to: k + 1 })
  })
  return list
})
const met = computed(() => (Object.keys(fateWords) as StretchFate[]).filter((fate) => props.fates?.includes(fate)))
const at = (k: number): number => (k / slices.value) * W
const W = 720
const H = 64
const LANE = 12
const range = computed(() => {
  let [low, high] = [Infinity, -Infinity]
  for (let k = 0; k < props.columns.length; k += 2) {
    if (props.columns[k] < low) low = props.columns[k]
    if (props.columns[k + 1] > high) high = props.columns[k + 1]
  }
  return low <= high ? { low, high } : { low: 0, high: 0 }
})
const path = computed(() => {
  const { low, high } = range.value
  const y = (v: number) => (H - 4 - ((v - low) / Math.max(1e-9, high - low)) * (H - 8)).toFixed(1)
  const least = (high - low) / 80
  const strokes: string[] = []
  for (let k = 0; k < slices.value; k++) {
    const [from, to] = [props.columns[2 * k], props.columns[2 * k + 1]]
    if (!Number.isNaN(from)) strokes.push(`M${at(k).toFixed(1)} ${y(from)}V${y(to + (to - from < least ? least : 0))}`)
  }
  return strokes.join('')
})
const drawing = ref<SVGSVGElement | null>(null)
const held = ref(false)
function go(event: PointerEvent): void {
  const box = drawing.value!.getBoundingClientRect()
  emit('go', Math.min(1, Math.max(0, (event.clientX - box.left) / box.width)) * props.durationS)
}
function press(event: PointerEvent): void {
  if (!props.seen) return
  held.value = true
  drawing.value!.setPointerCapture(event.pointerId)
  go(event)
}
</script>

<template>
  <figure class="grid grid-cols-[110px_1fr] m-0 items-center line-t-hair">
    <figcaption>
      <strong class="head">{{ label }}</strong
      ><small class="soft block">{{ range.low.toFixed(0) }} to {{ range.high.toFixed(0) }}, {{ (durationS / 60).toFixed(0) }} min</small>
    </figcaption>
    <div class="drawn">
      <seen-part v-if="seen" :seen="seen" :duration-s="durationS" />
      <svg
        ref="drawing"
        class="block relative w-full h-72px"
        :viewBox="`0 0 ${W} ${fates ? H + LANE : H}`"
        preserveAspectRatio="none"
        role="img"
        :aria-label="`${label} over the whole log`"
        :class="{ movable: seen }"
        @pointerdown="press"
        @pointermove="held && go($event)"
        @pointerup="held = false"
        @pointercancel="held = false"
      >
        <path class="pointer-events-none stroke-data stroke-1.4 fill-none" :d="path" vector-effect="non-scaling-stroke" />
        <rect v-for="s in stretches" :key="s.from" :x="at(s.from)" :width="at(s.to) - at(s.from)" :y="H" :height="LANE" :class="s.fate" />
      </svg>
    </div>
    <p v-if="met.length" class="soft key" data-testid="fates">
      <template v-for="fate in met" :key="fate"><span :class="fate"></span>{{ fateWords[fate] }}</template>
    </p>
  </figure>
</template>

<style scoped>
.key {
  grid-column: 2;
  margin: 2px 0 0;
  font-size: var(--t1);
}
.key span {
  display: inline-block;
  width: 15px;
  height: 10px;
  margin: 0 var(--s1) 0 var(--s3);
}
.key span:first-child {
  margin-left: 0;
}
.movable {
  cursor: grab;
  touch-action: none;
}
.drawn {
  position: relative;
}
.used {
  fill: var(--clear);
  background: var(--clear);
}
.cold {
  fill: var(--data);
  background: var(--data);
}
.moving {
  fill: var(--hair);
  background: var(--hair);
}
.cut {
  fill: var(--ink);
  background: var(--ink);
}
.other {
  fill: var(--warn);
  background: var(--warn);
}
</style>
