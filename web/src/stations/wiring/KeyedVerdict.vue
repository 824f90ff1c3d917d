<script setup lang="ts">
import { computed } from 'vue'
import { keyedVerdict, type StoredReading } from '@vectum/core'
import { useSettings } from '../../stores/settings.ts'

/** What the last wire that was tried is, why, and the test that comes next. */
const props = defineProps<{ readings: StoredReading<'wiring.keyed'>[] }>()
const settings = useSettings()
const last = computed(() => props.readings.at(-1) ?? null)
const verdict = computed(() => (last.value ? keyedVerdict(last.value.value) : null))
</script>

<template>
  <div v-if="verdict" class="boxed" data-testid="keyed-verdict">
    <strong class="big" :class="verdict.kind === 'good' ? 'clear' : verdict.kind === 'unknown' ? '' : 'warn'"
      >{{ last!.value.wire }}: {{ verdict.title }}</strong
    >
    <p class="my-1 mx-0">{{ settings.say(verdict.because) }}</p>
    <p v-if="verdict.next" class="my-1 mx-0">
      <strong>Next: {{ verdict.next }}</strong>
    </p>
  </div>
</template>

<style scoped>
.big {
  font: 600 var(--t4) / 1.2 var(--head);
}
</style>
