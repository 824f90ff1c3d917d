<script setup lang="ts">
import { computed } from 'vue'

/** The row or column through the block as a line, drawn from the cells. */
const props = defineProps<{ x: number[]; y: number[]; marked: number; caption: string; decimals: number }>()
const W = 330
const H = 150
const low = computed(() => Math.min(...props.y))
const high = computed(() => Math.max(...props.y))
const px = (v: number) => 34 + ((W - 50) * (v - props.x[0])) / Math.max(1e-9, props.x[props.x.length - 1] - props.x[0])
const py = (v: number) => H - 26 - ((H - 44) * (v - low.value)) / Math.max(1e-9, high.value - low.value)
const line = computed(() => props.x.map((v, k) => `${k ? 'L' : 'M'}${px(v).toFixed(1)} ${py(props.y[k]).toFixed(1)}`).join(''))
</script>

<template>
  <figure>
    <svg class="w-full" :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="caption">
      <path :d="`M34 ${H - 22}H${W - 10}M34 ${H - 22}V12`" class="axis stroke-soft fill-none" />
      <text x="30" :y="py(high) + 5" text-anchor="end">{{ high.toFixed(decimals > 1 ? 2 : 0) }}</text>
      <text x="30" :y="py(low) + 5" text-anchor="end">{{ low.toFixed(decimals > 1 ? 2 : 0) }}</text>
      <text x="34" :y="H - 6">{{ x[0] }}</text>
      <text :x="W - 10" :y="H - 6" text-anchor="end">{{ x[x.length - 1] }}</text>
      <path :d="line" class="line stroke-data stroke-2 fill-none" />
      <circle
        v-for="(v, k) in x"
        :key="v"
        class="fill-data"
        :cx="px(v)"
        :cy="py(y[k])"
        :r="k === marked ? 6 : 3"
        :class="{ marked: k === marked }"
      />
    </svg>
    <figcaption class="soft text-t1 pl-6">{{ caption }}</figcaption>
  </figure>
</template>

<style scoped>
.marked {
  fill: var(--stop);
}
</style>
