<script setup lang="ts">
import { NPopover } from 'naive-ui'
import type { DerivedNumber } from '@vectum/core'
import { useSettings } from '../stores/settings.ts'

/** A computed number that answers "why?": formula, what was put in, what was assumed, where the formula comes from. */
defineProps<{ number: DerivedNumber }>()
const settings = useSettings()
</script>

<template>
  <div class="row">
    <span class="label">{{ number.label }}</span>
    <span class="value num">{{ settings.format(number.value, number.dimension) }}</span>
    <n-popover trigger="click" placement="left" style="max-width: 380px">
      <template #trigger>
        <button class="plain why" :aria-label="`Why: ${number.label}`">why</button>
      </template>
      <p class="formula">{{ number.formula }}</p>
      <table>
        <tbody>
          <tr v-for="input in number.inputs" :key="input.name">
            <td class="soft">{{ input.name }}</td>
            <td class="num">{{ input.quantity ? settings.format(input.quantity.value, input.quantity.dimension) : input.value }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="number.assumed.length" class="warn">Assumed, not measured: {{ number.assumed.map(settings.say).join(', ') }}.</p>
      <p class="soft source">{{ number.source }}</p>
    </n-popover>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  align-items: baseline;
  gap: var(--s3);
  padding: var(--s1) 0;
  border-bottom: 1px dotted var(--hair);
  min-height: 36px;
}
.label {
  font-weight: 400;
  flex: 1;
  color: var(--soft);
  font-size: var(--t2);
  line-height: 1.2;
}
.value {
  font-size: var(--t4);
  white-space: nowrap;
}
.why {
  color: var(--data);
  text-decoration: underline;
  min-height: 30px;
  padding: 0 var(--s1);
}
.formula {
  margin: 0 0 var(--s2);
  font-weight: 600;
}
.source {
  font-size: var(--t1);
  margin: var(--s2) 0 0;
}
</style>
