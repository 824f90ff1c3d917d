<script setup lang="ts">
import { computed } from 'vue'
import type { Joint } from '@vectum/core'
import { jointPlaces, type CircuitSheet } from './circuit-layout.ts'

/** The joints on the drawing: hollow while nobody has looked, ticked when dry, barred when wet. Drawn over the circuit, in its measure. */
const props = defineProps<{
  sheet: CircuitSheet
  joints: Joint[]
  states: Record<string, 'dry' | 'wet' | 'unseen'>
  selected: string | null
}>()
const emit = defineEmits<{ tap: [id: string] }>()
const dots = computed(() => {
  const places = jointPlaces(props.sheet)
  const nth = new Map<string, number>()
  return props.joints.flatMap((joint) => {
    const i = nth.get(joint.section) ?? 0
    nth.set(joint.section, i + 1)
    const at = places.find((p) => p.section === joint.section)?.points[i]
    return at ? [{ joint, x: at[0], y: at[1], state: props.states[joint.id] }] : []
  })
})
</script>

<template>
  <g
    v-for="d in dots"
    :key="d.joint.id"
    class="joint cursor-pointer"
    :class="[d.state, { on: selected === d.joint.id }]"
    :transform="`translate(${d.x} ${d.y})`"
    role="button"
    tabindex="0"
    :aria-label="`${d.joint.label}, ${d.joint.section}: ${d.state === 'unseen' ? 'not looked at' : d.state}`"
    :aria-pressed="selected === d.joint.id"
    :data-testid="`joint-${d.joint.id}`"
    @click.stop="emit('tap', d.joint.id)"
    @keydown.enter.prevent="emit('tap', d.joint.id)"
    @keydown.space.prevent="emit('tap', d.joint.id)"
  >
    <rect x="-15" y="-24" width="30" height="48" class="hit" />
    <circle class="fill-sheet stroke-ink stroke-2.5" r="11" />
    <path v-if="d.state === 'dry'" class="fill-none stroke-sheet stroke-2.5" d="M-5 0l4 4 6-8" />
    <path v-else-if="d.state === 'wet'" class="fill-none stroke-sheet stroke-2.5" d="M-5 -5l10 10M5 -5l-10 10" />
  </g>
</template>

<style scoped>
.hit {
  fill: transparent;
}
.dry circle {
  fill: var(--clear);
  stroke: var(--clear);
}
.wet circle {
  fill: var(--stop);
  stroke: var(--stop);
}
.on circle {
  stroke: var(--ink);
  stroke-width: 5;
}
</style>
