<script setup lang="ts">
import { computed } from 'vue'
import type { Frame } from '@vectum/core'
import { useSettings } from '../../stores/settings.ts'

/** The numbers of now, large enough to read from the wing; a mixture before its sensor is hot is pale. */
const props = defineProps<{ frame: Frame | null }>()
const settings = useSettings()
const lambdaText = computed(() =>
  !props.frame
    ? '–'
    : props.frame.lambda === null
      ? 'heating'
      : settings.format(props.frame.lambda, 'lambda', settings.mixture === 'AFR' ? 1 : 2),
)
</script>

<template>
  <section class="numbers" aria-label="Live numbers">
    <div class="big"><span class="num" data-testid="rpm">{{ frame ? frame.rpm.toFixed(0) : '–' }}</span><small>rpm</small></div>
    <div><span class="num">{{ frame?.mapKpa?.toFixed(0) ?? '–' }}</span><small>MAP kPa</small></div>
    <div :class="{ pale: frame?.lambda == null }">
      <span class="num">{{ lambdaText }}</span><small>{{ settings.mixture === 'AFR' ? 'AFR' : 'lambda' }}</small>
    </div>
    <div>
      <span class="num" data-testid="coolant">{{ settings.format(frame?.coolantC ?? undefined, 'temperature') }}</span
      ><small>coolant</small>
    </div>
    <div><span class="num">{{ frame?.batteryV?.toFixed(1) ?? '–' }}</span><small>battery V</small></div>
    <div><span class="num">{{ frame?.idleValvePct?.toFixed(0) ?? '–' }}</span><small>idle valve %</small></div>
  </section>
</template>

<style scoped>
.numbers {
  display: grid;
  grid-template-columns: 1.5fr repeat(5, 1fr);
  gap: var(--s3);
  border-top: 1px solid var(--ink);
  margin-top: var(--s3);
  padding: var(--s2) 0 var(--s1);
  align-items: end;
}
.numbers .num {
  display: block;
  font-size: var(--t5);
  line-height: 1;
  white-space: nowrap;
}
.numbers .big .num {
  font-size: var(--t6);
}
.pale .num {
  color: var(--soft);
  font-weight: 500;
  font-size: var(--t5);
}
</style>
