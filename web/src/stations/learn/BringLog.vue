<script setup lang="ts">
import { NButton, NSelect } from 'naive-ui'
import { MAX_LOG_MB } from './use-learning.ts'

/** Where a log comes from: a file, the bench, or those that are there. With one on the screen it is a single line, so that the map stands above the fold. */
defineProps<{ logs: { value: string; label: string }[]; busy: boolean; driving: boolean }>()
const emit = defineEmits<{ take: [file: File | undefined]; drive: []; solve: [] }>()
const chosen = defineModel<string | null>('chosen', { required: true })
function picked(event: Event): void {
  emit('take', (event.target as HTMLInputElement).files?.[0])
}
</script>

<template>
  <div class="bring grid grid-cols-[1fr_1fr] gap-4 mb-3 items-center" :class="{ compact: logs.length > 0 }">
    <label class="drop"
      ><input
        class="absolute opacity-0 w-1px"
        type="file"
        accept=".csv,.txt,.tsv,.log,text/*"
        data-testid="log-file"
        @change="picked"
      /><strong class="head text-t4 block">Drop a log here</strong
      ><span class="soft text-t1">or tap to choose; CSV in any dialect, {{ MAX_LOG_MB }} MB at most</span></label
    >
    <div v-if="logs.length" class="which flex gap-2 min-w-0">
      <n-select v-model:value="chosen" :options="logs" aria-label="Log" @update:value="emit('solve')" />
      <n-button :disabled="busy" @click="emit('solve')">Solve again</n-button>
    </div>
    <div class="bench">
      <n-button dashed size="large" :loading="driving" :disabled="busy" data-testid="bench-drive" @click="emit('drive')"
        >Bench: drive 20 minutes</n-button
      >
      <small class="soft block leading-[1.25] mt-1">the simulated car on the tune now in it, town, road and hills</small>
    </div>
  </div>
</template>

<style scoped>
.compact {
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: var(--s3);
  margin-top: var(--s3);
}
.compact .drop {
  padding: var(--s1) var(--s3);
  min-height: 0;
}
.compact .drop strong {
  font-size: var(--t3);
  white-space: nowrap;
}
.compact small,
.compact .drop span {
  display: none;
}
.drop {
  border: 2px dashed var(--soft);
  padding: var(--s2) var(--s4);
  cursor: pointer;
  display: block;
  min-height: 60px;
}
.drop:focus-within {
  outline: 3px solid var(--data);
}
.which :first-child {
  flex: 1;
  min-width: 0;
}
@media (max-width: 700px) {
  .bring,
  .compact {
    grid-template-columns: 1fr;
  }
}
</style>
