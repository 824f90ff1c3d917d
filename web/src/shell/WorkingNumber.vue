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
    <span class="label font-400 flex-1 text-soft text-t2 leading-[1.2]">{{ number.label }}</span>
    <span class="value num text-t4 whitespace-nowrap">{{ settings.format(number.value, number.dimension) }}</span>
    <n-popover trigger="click" placement="left" style="max-width: 380px">
      <template #trigger>
        <button class="plain why text-data underline min-h-30px py-0 px-1" :aria-label="`Why: ${number.label}`">why</button>
      </template>
      <p class="formula mx-0 mt-0 mb-2 font-600">{{ number.formula }}</p>
      <table>
        <tbody>
          <tr v-for="input in number.inputs" :key="input.name">
            <td class="soft">{{ input.name }}</td>
            <td class="num">{{ input.quantity ? settings.format(input.quantity.value, input.quantity.dimension) : input.value }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="number.assumed.length" class="warn">Assumed, not measured: {{ number.assumed.map(settings.say).join(', ') }}.</p>
      <p class="soft source text-t1 mx-0 mt-2 mb-0">{{ number.source }}</p>
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
</style>
