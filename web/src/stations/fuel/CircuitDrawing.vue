<script setup lang="ts">
import { computed, ref } from 'vue'
import type { CircuitSolution, FuelChoices, SectionId } from '@vectum/core'
import { useSettings } from '../../stores/settings.ts'
import { circuitNotes, circuitSheet, type Pipe, type Placed } from './circuit-layout.ts'
import ElementMark from './ElementMark.vue'
import { useElementDrag } from './use-element-drag.ts'

/**
 * The circuit as it is laid out, darker where the pressure is higher; tap a thing to change it, drag it along its line to reorder.
 * @prop still only looked at: nothing on it is changed
 */
const props = defineProps<{ fuel: FuelChoices; solution: CircuitSolution | null; selected: string | null; still?: boolean }>()
const emit = defineEmits<{ select: [key: string]; move: [section: SectionId, from: number, to: number] }>()
const settings = useSettings()
const sheet = computed(() => circuitSheet(props.fuel))
const most = computed(() => Math.max(1, ...(props.solution?.nodes.map((n) => n.gaugeKpa) ?? [1])))
const ink = (kpa: number) =>
  `color-mix(in srgb, var(--data) ${Math.round(18 + 82 * Math.max(0, Math.min(1, kpa / most.value)))}%, var(--hair))`
const sectionOf = (id: SectionId) => props.solution?.sections.find((s) => s.id === id)
const afterOf = (p: Placed) =>
  props.solution?.branches.find((b) => b.section === p.section && b.elementId === p.element?.id)?.afterKpa ?? null

/** the pipe in pieces from thing to thing, each with the pressure in it */
function pieces(pipe: Pipe): { d: string; kpa: number }[] {
  if (!props.solution) return [{ d: pipe.points.map(([x, y], i) => `${i ? 'L' : 'M'}${x} ${y}`).join(''), kpa: 0 }]
  const corners = pipe.points
  const list: { d: string; kpa: number }[] = []
  let kpa = sectionOf(pipe.section)?.startKpa ?? 0
  let path = `M${corners[0][0]} ${corners[0][1]}`
  for (const [x, y] of corners.slice(1, -1)) {
    // up to its regulator a return stands at the pressure before it
    if (pipe.section === 'return' && !sheet.value.pipes.some((p) => p.section === 'delivery')) {
      list.push({ d: `${path}L${x} ${y}`, kpa: node('regulator') ?? kpa })
      path = `M${x} ${y}`
    } else path += `L${x} ${y}`
  }
  for (const item of pipe.items) {
    list.push({ d: `${path}L${item.x} ${item.y}`, kpa })
    path = `M${item.x} ${item.y}`
    kpa = afterOf(item) ?? kpa
  }
  const end = corners[corners.length - 1]
  list.push({ d: `${path}L${end[0]} ${end[1]}`, kpa })
  return list
}
const flowLabels = computed(() =>
  props.solution
    ? sheet.value.pipes.map((p) => {
        const end = p.points[p.points.length - 1]
        const before = p.points[p.points.length - 2]
        return {
          section: p.section,
          x: (end[0] + before[0]) / 2,
          y: end[1] - 34,
          text: settings.format(sectionOf(p.section)?.flowLph, 'pumpFlow'),
          back: end[0] < before[0],
        }
      })
    : [],
)
const node = (id: string) => props.solution?.nodes.find((n) => n.id === id)?.gaugeKpa ?? null
const equipmentKpa = (p: Placed): number | null =>
  p.equipment === 'pump'
    ? node('outlet')
    : p.equipment === 'injectors'
      ? node('rail')
      : p.equipment === 'regulator'
        ? node('regulator')
        : null
const kpaText = (kpa: number | null) =>
  kpa === null ? '' : settings.format(kpa, 'pressure', settings.system === 'metric' && Math.abs(kpa) < 20 ? 1 : undefined)
/** above where a pipe leaves downwards */
const labelled = (p: Placed, above: number, below: number) =>
  p.equipment === 'injectors' ? above : p.equipment === 'regulator' && props.fuel.layout === 'returnless' ? above - 10 : below
const notes = computed(() => circuitNotes(props.fuel, sheet.value))
const says = (p: Placed) =>
  `${p.label}${p.section ? `, ${p.section}` : ''}${p.element && afterOf(p) !== null ? `, ${kpaText(afterOf(p))} behind it` : ''}`

const svg = ref<SVGSVGElement>()
const { dragging, start } = useElementDrag(
  svg,
  () => sheet.value.width,
  (section, from, to) => emit('move', section, from, to),
)
const xOf = (p: Placed) => (dragging.value?.placed.key === p.key ? dragging.value.x : p.x)
function onKey(event: KeyboardEvent, p: Placed): void {
  if (event.key === 'Enter' || event.key === ' ') {
    event.preventDefault()
    emit('select', p.key)
  } else if (p.section && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
    const pipe = sheet.value.pipes.find((q) => q.section === p.section)!
    const forward = pipe.points[pipe.points.length - 1][0] > pipe.points[pipe.points.length - 2][0]
    const to = p.index + ((event.key === 'ArrowRight') === forward ? 1 : -1)
    if (to >= 0 && to < pipe.items.length) {
      event.preventDefault()
      emit('move', p.section, p.index, to)
    }
  }
}
</script>

<template>
  <svg
    ref="svg"
    class="w-full block [touch-action:pan-y]"
    :class="{ still }"
    :viewBox="`0 0 ${sheet.width} ${sheet.height}`"
    role="group"
    aria-label="Fuel circuit"
  >
    <g
      v-for="v in sheet.vessels"
      :key="v.id"
      class="thing vessel cursor-pointer"
      :class="{ on: selected === v.id }"
      role="button"
      :tabindex="still ? -1 : 0"
      :aria-label="v.label"
      @click="emit('select', v.id)"
      @keydown.enter="emit('select', v.id)"
    >
      <rect class="fill-paper stroke-ink stroke-2" :x="v.x" :y="v.y" :width="v.w" :height="v.h" />
      <path :d="`M${v.x} ${v.y + v.h * 0.45}q${v.w / 4} -5 ${v.w / 2} 0t${v.w / 2} 0`" class="fill-none stroke-data stroke-1.5" />
      <text :x="v.x + v.w / 2" :y="v.y + v.h * 0.45 + 24" text-anchor="middle">{{ v.label }}</text>
    </g>
    <template v-for="pipe in sheet.pipes" :key="pipe.section">
      <path v-for="(piece, i) in pieces(pipe)" :key="i" :d="piece.d" class="pipe" :style="{ stroke: ink(piece.kpa) }" />
    </template>
    <g v-for="l in flowLabels" :key="l.section">
      <text :x="l.x" :y="l.y" text-anchor="middle" class="head-t3 fill-soft">
        {{ l.back ? '← ' : '' }}{{ l.section }} {{ l.text }}{{ l.back ? '' : ' →' }}
      </text>
    </g>
    <g v-for="n in notes" :key="n.text">
      <path :d="n.d" class="signal fill-none stroke-ink stroke-dash-[3_3]" />
      <text :x="n.x" :y="n.y" :text-anchor="n.end ? 'end' : 'start'" class="note">{{ n.text }}</text>
    </g>
    <template v-for="pipe in sheet.pipes" :key="`${pipe.section}-items`">
      <g
        v-for="p in pipe.items"
        :key="p.key"
        class="thing cursor-pointer"
        :class="{ on: selected === p.key }"
        :transform="`translate(${xOf(p)} ${p.y})`"
        role="button"
        :tabindex="still ? -1 : 0"
        :aria-label="says(p)"
        :aria-pressed="selected === p.key"
        :data-testid="`el-${p.key}`"
        :data-at="p.key"
        @pointerdown="start($event, p, pipe)"
        @click="emit('select', p.key)"
        @keydown="onKey($event, p)"
      >
        <rect x="-26" y="-24" width="52" height="48" class="hit" />
        <element-mark :element="p.element" :back="pipe.section === 'return' || pipe.section === 'lift'" />
        <text y="36" text-anchor="middle">{{ p.label }}</text>
        <text y="54" text-anchor="middle" class="kpa">{{ kpaText(afterOf(p)) }}</text>
      </g>
    </template>
    <g
      v-for="p in sheet.equipment"
      :key="p.key"
      class="thing cursor-pointer"
      :class="{ on: selected === p.key }"
      :transform="`translate(${p.x} ${p.y})`"
      role="button"
      :tabindex="still ? -1 : 0"
      :aria-label="says(p)"
      :aria-pressed="selected === p.key"
      :data-testid="`el-${p.key}`"
      :data-at="p.key"
      @click="emit('select', p.key)"
      @keydown="onKey($event, p)"
    >
      <rect x="-30" y="-26" width="60" height="52" class="hit" />
      <element-mark :equipment="p.equipment" :back="p.equipment === 'lift-pump'" />
      <text :y="labelled(p, -36, 40)" text-anchor="middle">{{ p.label }}</text>
      <text :y="labelled(p, -19, 59)" text-anchor="middle" class="kpa">{{ kpaText(equipmentKpa(p)) }}</text>
    </g>
    <slot name="over" :sheet="sheet" />
  </svg>
</template>

<style scoped>
.pipe {
  fill: none;
  stroke-width: 7;
  stroke-linejoin: round;
}
.still .thing {
  pointer-events: none;
}
.thing text {
  font: 600 var(--t2) var(--head);
  fill: var(--ink);
  pointer-events: none;
}
.thing .kpa {
  font-size: var(--t3);
  fill: var(--data);
}
.note {
  font: 500 var(--t1) var(--head);
  fill: var(--ink);
}
.hit {
  fill: transparent;
}
.thing:hover .hit {
  fill: var(--wash);
}
.thing.on .hit {
  fill: var(--wash);
  stroke: var(--ink);
  stroke-width: 2;
}
.vessel.on rect {
  fill: var(--wash);
}
</style>
