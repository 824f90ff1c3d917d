<script setup lang="ts">
import { cautionsFor } from '@vectum/core'

/** The cautions of a station, where the danger is: dangers first, then the order of steps, then whose word goes before ours. */
const props = defineProps<{ station: string; kinds?: ('danger' | 'order' | 'defer')[] }>()
const kinds = props.kinds ?? ['danger', 'order', 'defer']
const list = kinds.flatMap((kind) => cautionsFor(props.station).filter((c) => c.kind === kind))
</script>

<template>
  <details class="cautions">
    <summary>
      <svg class="flex-none fill-none stroke-warn stroke-2" width="20" height="20" viewBox="0 0 20 20" aria-hidden="true">
        <path d="M10 2.5L18.5 17.5H1.5Z M10 8v4.5M10 14.2v1.3" />
      </svg>
      <strong class="head flex-1 text-t3">{{ list[0]?.text }}</strong>
      <span v-if="list.length > 1" class="more">{{ list.length - 1 }} more</span>
    </summary>
    <ul class="m-0 pt-0 pr-4 pb-3 pl-6">
      <li v-for="c in list.slice(1)" :key="c.id" class="py-2px px-0" :class="c.kind">{{ c.text }}</li>
    </ul>
  </details>
</template>

<style scoped>
.cautions {
  border: 1px solid var(--warn);
  border-left-width: 5px;
  margin-bottom: var(--s3);
  background: var(--paper);
}
summary {
  display: flex;
  gap: var(--s3);
  align-items: center;
  min-height: 44px;
  padding: var(--s1) var(--s3);
  cursor: pointer;
}
.more {
  text-decoration: underline;
  font-size: var(--t2);
  white-space: nowrap;
}
.defer {
  color: var(--soft);
}
</style>
