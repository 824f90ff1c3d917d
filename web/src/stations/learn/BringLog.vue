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
  <div class="bring" :class="{ compact: logs.length > 0 }">
    <label class="drop"
      ><input type="file" accept=".csv,.txt,.tsv,.log,text/*" data-testid="log-file" @change="picked" /><strong class="head"
        >Drop a log here</strong
      ><span class="soft">or tap to choose; CSV in any dialect, {{ MAX_LOG_MB }} MB at most</span></label
    >
    <div v-if="logs.length" class="which">
      <n-select v-model:value="chosen" :options="logs" aria-label="Log" @update:value="emit('solve')" />
      <n-button :disabled="busy" @click="emit('solve')">Solve again</n-button>
    </div>
    <div class="bench">
      <n-button dashed size="large" :loading="driving" :disabled="busy" data-testid="bench-drive" @click="emit('drive')"
        >Bench: drive 20 minutes</n-button
      >
      <small class="soft">the simulated car on the tune now in it, town, road and hills</small>
    </div>
  </div>
</template>

<style scoped>
.bench small {
  display: block;
  line-height: 1.25;
  margin-top: var(--s1);
}
.bring {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--s4);
  margin-bottom: var(--s3);
  align-items: center;
}
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
.drop input {
  position: absolute;
  opacity: 0;
  width: 1px;
}
.drop strong {
  font-size: var(--t4);
  display: block;
}
.drop span {
  font-size: var(--t1);
}
.which {
  display: flex;
  gap: var(--s2);
  min-width: 0;
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
