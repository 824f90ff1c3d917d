<script setup lang="ts">
/** Plan view of a car, front up; each zone is a button with its own name and the number of facts still needed there. */
defineProps<{ selected: string; missing: Record<string, number>; known: Record<string, string> }>()
const emit = defineEmits<{ select: [zone: string] }>()

const zones = [
  { id: 'electrics', title: 'Electrics', x: 62, y: 46, w: 136, h: 44 },
  { id: 'engine', title: 'Engine', x: 62, y: 94, w: 86, h: 104 },
  { id: 'ignition', title: 'Ignition', x: 152, y: 94, w: 46, h: 104, turn: true },
  { id: 'cam', title: 'Cam', x: 62, y: 202, w: 136, h: 40 },
  { id: 'car', title: 'Car and place', x: 62, y: 258, w: 136, h: 72 },
  { id: 'exhaust', title: 'Exhaust', x: 156, y: 334, w: 42, h: 82, turn: true },
  { id: 'gearing', title: 'Gearing', x: 62, y: 334, w: 90, h: 82 },
  { id: 'fuel', title: 'Tank and fuel', x: 62, y: 428, w: 136, h: 66 },
  { id: 'baseline', title: 'As it drives now', x: 34, y: 536, w: 192, h: 44, road: true },
]
</script>

<template>
  <svg class="w-full max-h-full block" viewBox="0 0 260 584" role="group" aria-label="The car from above; choose a zone">
    <path
      class="body"
      d="M70 22 Q130 4 190 22 Q208 40 210 110 L212 270 L210 440 Q208 508 190 520 Q130 534 70 520 Q52 508 50 440 L48 270 L50 110 Q52 40 70 22Z"
    />
    <path class="glass" d="M62 252 H198 M62 420 H198" />
    <g class="wheel">
      <rect x="34" y="88" width="13" height="58" />
      <rect x="213" y="88" width="13" height="58" />
      <rect x="34" y="390" width="13" height="58" />
      <rect x="213" y="390" width="13" height="58" />
    </g>
    <text x="130" y="38" class="end" text-anchor="middle">front</text>
    <g
      v-for="z in zones"
      :key="z.id"
      class="zone cursor-pointer"
      :class="{ on: selected === z.id, lacks: missing[z.id] }"
      role="button"
      tabindex="0"
      :aria-pressed="selected === z.id"
      :aria-label="`${z.title}${missing[z.id] ? `, ${missing[z.id]} needed` : ''}`"
      @click="emit('select', z.id)"
      @keydown.enter="emit('select', z.id)"
      @keydown.space.prevent="emit('select', z.id)"
    >
      <rect :x="z.x" :y="z.y" :width="z.w" :height="z.h" />
      <text
        class="head-t3 fill-ink pointer-events-none"
        :x="z.x + z.w / 2"
        :y="z.y + z.h / 2 + (missing[z.id] || known[z.id] ? -2 : 6)"
        text-anchor="middle"
        :transform="z.turn ? `rotate(90 ${z.x + z.w / 2} ${z.y + z.h / 2})` : undefined"
      >
        {{ z.title }}
      </text>
      <text
        class="small head-t3 fill-ink pointer-events-none"
        :x="z.x + z.w / 2"
        :y="z.y + z.h / 2 + 15"
        text-anchor="middle"
        :transform="z.turn ? `rotate(90 ${z.x + z.w / 2} ${z.y + z.h / 2})` : undefined"
      >
        {{ missing[z.id] ? `${missing[z.id]} needed` : known[z.id] }}
      </text>
    </g>
  </svg>
</template>

<style scoped>
.body {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 2;
}
.glass {
  stroke: var(--ink);
  fill: none;
}
.wheel rect {
  fill: var(--ink);
}
.end {
  fill: var(--soft);
  font: var(--t1) var(--text);
}
.zone rect {
  fill: var(--sheet);
  stroke: var(--soft);
}
.zone .small {
  font: var(--t1) var(--text);
}
.zone:hover rect {
  fill: var(--wash);
}
.lacks rect {
  stroke: var(--warn);
  stroke-width: 2.5;
  stroke-dasharray: 6 3;
}
.on rect {
  fill: var(--ink) !important;
}
.on text {
  fill: var(--onInk);
}
</style>
