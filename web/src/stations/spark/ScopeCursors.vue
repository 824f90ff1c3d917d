<script setup lang="ts">
import { computed } from 'vue'
import { delayDeg } from '@vectum/core'
import type { ScopeRecord } from '../../workers/scope-worker.ts'

/** Two cursors on a record: the time between them, its crank degrees, and what each trace shows at both. */
const props = defineProps<{ record: ScopeRecord; cursors: [number, number]; values: number[][]; rpm: number | null }>()
const emit = defineEmits<{ moved: [cursors: [number, number]] }>()
const apart = computed(() => Math.abs(props.cursors[1] - props.cursors[0]))
function slide(k: 0 | 1, event: Event): void {
  const next: [number, number] = [...props.cursors]
  next[k] = Number((event.target as HTMLInputElement).value)
  emit('moved', next)
}
</script>

<template>
  <div class="cursors">
    <label v-for="k in [0, 1] as const" :key="k" class="flex gap-3 items-center min-h-44px font-600"
      >{{ 'AB'[k] }}
      <input
        class="flex-1"
        type="range"
        min="0"
        :max="record.seconds"
        :step="record.seconds / 20000"
        :value="cursors[k]"
        :aria-label="`Cursor ${'AB'[k]}, seconds`"
        @input="slide(k, $event)"
      />
    </label>
    <p class="col-span-full m-0" data-testid="cursors">
      A to B <strong class="num text-t4">{{ (apart * 1000).toFixed(2) }} ms</strong>
      <template v-if="rpm !== null">
        = <strong class="num text-t4">{{ delayDeg(rpm, apart * 1e6).toFixed(1) }}°</strong> at {{ rpm.toFixed(0) }} rpm</template
      >
      <template v-for="(t, k) in record.traces" :key="t.id">
        · {{ t.id }} {{ values[0][k]?.toFixed(2) }} → {{ values[1][k]?.toFixed(2) }} {{ t.unit }}</template
      >
    </p>
  </div>
</template>

<style scoped>
.cursors {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 var(--s5);
  margin: var(--s1) 0 var(--s2);
}
</style>
