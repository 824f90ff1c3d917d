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
  <figure class="m-0 max-w-460px">
    <svg class="w-260px" viewBox="0 0 260 44" role="img" :aria-label="`Scale of ${gauge.name}`">
      <line x1="20" x2="240" y1="30" y2="30" class="scale stroke-ink stroke-4" />
      <text class="fill-ink" x="20" y="18" text-anchor="middle">{{ gauge.low }}</text>
      <text class="fill-ink" x="240" y="18" text-anchor="middle">{{ gauge.high }}</text>
      <path v-for="m in marks" :key="m.signal" class="fill-data" :d="`M${x(m.share)} 38 l-5 -16 h10 Z`" />
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
