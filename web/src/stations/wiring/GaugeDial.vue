<script setup lang="ts">
import { computed } from 'vue'
import { type Gauge, gaugeMarks, type Sender } from '@vectum/core'

/** A gauge's scale as a strip with what stands where: put the resistance on its lead and look. */
const props = defineProps<{ gauge: Gauge; sender: Sender }>()
const marks = computed(() => gaugeMarks(props.gauge, props.sender))
const x = (share: number): number => 20 + 220 * Math.min(1, Math.max(0, share))
const of = (n: number): string => String(Number(n.toPrecision(3)))
</script>

<template>
  <figure>
    <svg viewBox="0 0 260 44" role="img" :aria-label="`Scale of ${gauge.name}`">
      <line x1="20" x2="240" y1="30" y2="30" class="scale" />
      <text x="20" y="18" text-anchor="middle">{{ gauge.low }}</text>
      <text x="240" y="18" text-anchor="middle">{{ gauge.high }}</text>
      <path v-for="m in marks" :key="m.signal" :d="`M${x(m.share)} 38 l-5 -16 h10 Z`" />
    </svg>
    <figcaption data-testid="gauge-marks">
      <strong>{{ gauge.name }}</strong>: with
      <template v-for="(m, i) in marks" :key="m.signal"
        >{{ i ? ', ' : '' }}{{ of(m.signal) }} {{ sender.signal === 'ohm' ? 'Ω' : 'V' }} on its lead it stands at {{ of(m.value) }}
        {{ sender.unit }}</template
      >.
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  max-width: 460px;
}
svg {
  width: 260px;
}
.scale {
  stroke: var(--ink);
  stroke-width: 4;
}
path {
  fill: var(--data);
}
text {
  fill: var(--ink);
}
</style>
