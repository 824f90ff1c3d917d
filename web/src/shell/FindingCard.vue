<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Finding } from '@vectum/core'
import { useSettings } from '../stores/settings.ts'
import { routeTo } from './landing.ts'

/** One finding; with a build it leads to the place that settles it. */
const props = defineProps<{ finding: Finding; buildId?: string }>()
const place = computed(() => (props.buildId && props.finding.where ? routeTo(props.finding.where, props.buildId) : null))
const settings = useSettings()
const word = { stop: 'Stop', warn: 'Look', note: 'Note' } as const
</script>

<template>
  <component :is="place ? RouterLink : 'article'" :to="place ?? undefined" class="card" :class="[finding.severity, { leads: place }]">
    <svg class="flex-none mt-1px" width="20" height="20" viewBox="0 0 20 20" aria-hidden="true">
      <template v-if="finding.severity === 'stop'">
        <rect x="2" y="2" width="16" height="16" class="fill" />
        <path d="M5 15L15 5" class="bar" />
      </template>
      <path v-else-if="finding.severity === 'warn'" d="M10 2.5L18.5 17.5H1.5Z" class="line" />
      <template v-else>
        <circle cx="10" cy="10" r="8" class="line" />
        <path d="M10 9v5M10 6v1" class="line" />
      </template>
    </svg>
    <div>
      <h3 class="text-t3" :class="finding.severity">
        <span class="visually-hidden">{{ word[finding.severity] }}: </span>{{ settings.say(finding.said.message) }}
      </h3>
      <p>{{ settings.say(finding.said.because) }}</p>
      <p class="remedy">{{ settings.say(finding.said.remedy) }}<span v-if="place" class="go" aria-hidden="true">&nbsp;→</span></p>
    </div>
  </component>
</template>

<style scoped>
.card {
  display: flex;
  gap: var(--s3);
  background: var(--sheet);
  border: 1px solid var(--hair);
  border-left: 5px solid var(--ink);
  padding: var(--s2) var(--s3);
  margin-bottom: var(--s2);
}
.card.leads {
  color: inherit;
  text-decoration: none;
}
.card.leads:hover {
  background: var(--wash);
}
.go {
  color: var(--data);
}
.card.stop {
  border-left-color: var(--stop);
}
.card.warn {
  border-left-color: var(--warn);
}
h3.note {
  color: var(--ink);
}
p {
  margin: 2px 0 0;
  font-size: var(--t2);
  line-height: 1.3;
  color: var(--ink);
}
.remedy {
  color: var(--ink);
  font-weight: 600;
}
.fill {
  fill: var(--stop);
}
.bar {
  stroke: var(--sheet);
  stroke-width: 2.5;
}
.line {
  fill: none;
  stroke: currentColor;
  stroke-width: 2;
}
.card.warn svg {
  color: var(--warn);
}
</style>
