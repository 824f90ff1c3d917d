<script setup lang="ts">
import { computed, ref } from 'vue'
import type { PortKind, VacuumMap } from '@vectum/core'
import { type SvgPoint, useSvgDrag } from '../../drawing/use-svg-drag.ts'

/**
 * Consumers at the left, the throttle body with its ports at the right, a hose between: drawn from one to the other, or tapped, first the consumer,
 * then the port. Ports stand where they give: clean air above the plates, ported at their edge, full vacuum below.
 */
const props = defineProps<{ map: VacuumMap; picked: string | null; still?: boolean }>()
const emit = defineEmits<{ pick: [consumer: string | null]; join: [consumer: string, port: string]; port: [port: string] }>()
const svg = ref<SVGSVGElement>()
const { start } = useSvgDrag(svg)
const W = 760
const ROW = 58
const TOP = 40
const BODY = { x: 470, width: 130 }
const level: Record<PortKind, number> = { clean: 0, ported: 1, manifold: 2, runner: 3 }
const height = computed(() => Math.max(props.map.consumers.length, props.map.ports.length) * ROW + TOP + 20)
const consumers = computed(() => props.map.consumers.map((x, i) => ({ ...x, at: { x: 220, y: TOP + i * ROW } })))
const ports = computed(() =>
  [...props.map.ports]
    .sort((a, b) => level[a.kind] - level[b.kind])
    .map((p, i, all) => ({ ...p, at: { x: BODY.x, y: TOP + (i * (height.value - TOP - 30)) / Math.max(1, all.length - 1) } })),
)
/** the plates stand between what gives clean air or is ported, and what is below them */
const platesY = computed(() => {
  const above = ports.value.filter((p) => level[p.kind] <= 1).at(-1)?.at.y
  const below = ports.value.find((p) => level[p.kind] > 1)?.at.y
  return above !== undefined && below !== undefined ? (above + below) / 2 : height.value / 2
})
const wrong = (consumer: string): string | null =>
  props.map.problems.find((p) => p.consumer === consumer && p.severity !== 'note')?.severity ?? null
const open = (port: string): boolean => props.map.problems.some((p) => p.consumer === null && p.port === port && p.severity === 'warn')
const bend = (a: SvgPoint, b: SvgPoint): string => `M${a.x} ${a.y} C${a.x + 110} ${a.y} ${b.x - 110} ${b.y} ${b.x} ${b.y}`
const hoses = computed(() =>
  consumers.value.flatMap((x) => {
    const port = ports.value.find((p) => p.id === x.port)
    return port ? [{ id: x.id, path: bend(x.at, port.at), wrong: wrong(x.id) }] : []
  }),
)
const drawn = ref<SvgPoint | null>(null)
const REACH = 34
function down(id: string): void {
  if (props.still) return
  emit('pick', id)
  start(
    (to) => (drawn.value = to),
    () => {
      const to = drawn.value
      drawn.value = null
      const port = to && ports.value.find((p) => Math.hypot(p.at.x - to.x, p.at.y - to.y) < REACH)
      if (port) emit('join', id, port.id)
    },
  )
}
const from = computed(() => consumers.value.find((x) => x.id === props.picked)?.at)
function tapPort(id: string): void {
  if (props.picked) emit('join', props.picked, id)
  else emit('port', id)
}
</script>

<template>
  <svg
    ref="svg"
    class="map"
    :viewBox="`0 0 ${W} ${height}`"
    :role="still ? 'img' : 'group'"
    aria-label="Vacuum hoses from consumers to ports"
  >
    <rect :x="BODY.x" :y="10" :width="BODY.width" :height="height - 20" class="body" />
    <line :x1="BODY.x + 12" :x2="BODY.x + BODY.width - 12" :y1="platesY - 16" :y2="platesY + 16" class="plate" />
    <text :x="BODY.x + BODY.width / 2" y="28" text-anchor="middle" class="soft-text">air in</text>
    <text :x="BODY.x + BODY.width / 2" :y="height - 16" text-anchor="middle" class="soft-text">manifold</text>
    <path v-for="h in hoses" :key="h.id" :d="h.path" class="hose" :class="[h.wrong, { picked: picked === h.id }]" :data-at="h.id" />
    <path v-if="drawn && from" :d="bend(from, drawn)" class="hose drawn" />
    <g
      v-for="x in consumers"
      :key="x.id"
      class="consumer"
      :class="[wrong(x.id), { picked: picked === x.id }]"
      :tabindex="still ? undefined : 0"
      :role="still ? undefined : 'button'"
      :aria-pressed="still ? undefined : picked === x.id"
      :data-testid="`consumer-${x.id}`"
      @pointerdown.prevent="down(x.id)"
      @keydown.enter="emit('pick', picked === x.id ? null : x.id)"
    >
      <rect class="fill-sheet stroke-hair" x="10" :y="x.at.y - 22" width="200" height="44" />
      <text x="22" :y="x.at.y + 6">{{ x.name }}</text>
      <circle :cx="x.at.x" :cy="x.at.y" r="9" />
      <title>{{ x.why }}</title>
    </g>
    <g
      v-for="p in ports"
      :key="p.id"
      class="port"
      :class="{ open: open(p.id), capped: p.capped }"
      :tabindex="still ? undefined : 0"
      :role="still ? undefined : 'button'"
      :data-at="p.id"
      :data-testid="`port-${p.id}`"
      @click="!still && tapPort(p.id)"
      @keydown.enter="tapPort(p.id)"
    >
      <rect :x="p.at.x - 24" :y="p.at.y - 22" :width="W - p.at.x + 20" height="44" class="touch" />
      <circle :cx="p.at.x" :cy="p.at.y" :r="(p.boreMm ?? 4) > 7 ? 14 : 9" />
      <line v-if="p.capped" class="stroke-ink stroke-3" :x1="p.at.x - 12" :x2="p.at.x + 12" :y1="p.at.y - 12" :y2="p.at.y + 12" />
      <text :x="BODY.x + BODY.width + 12" :y="p.at.y + 6">{{ p.name }}</text>
      <title>{{ p.name }}</title>
    </g>
  </svg>
</template>

<style scoped>
.map {
  display: block;
  width: 100%;
  max-width: 860px;
  touch-action: none;
}
.body {
  fill: var(--wash);
  stroke: var(--soft);
}
.plate {
  stroke: var(--ink);
  stroke-width: 6;
}
text {
  font: 600 var(--t3) var(--head);
  fill: var(--ink);
}
.soft-text {
  fill: var(--soft);
}
.hose {
  fill: none;
  stroke: var(--ink);
  stroke-width: 5;
  opacity: 0.75;
}
.hose.warn {
  stroke: var(--warn);
}
.hose.stop {
  stroke: var(--stop);
}
.hose.picked,
.hose.drawn {
  stroke: var(--data);
  opacity: 1;
}
.consumer circle,
.port circle {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 2.5;
}
.consumer {
  cursor: grab;
}
.consumer.warn circle {
  fill: var(--warn);
}
.consumer.stop circle {
  fill: var(--stop);
}
.consumer.picked rect {
  stroke: var(--data);
  stroke-width: 3;
}
.port {
  cursor: pointer;
}
.port .touch {
  fill: transparent;
  stroke: none;
}
.port.open circle {
  stroke: var(--warn);
  stroke-width: 4;
}
</style>
