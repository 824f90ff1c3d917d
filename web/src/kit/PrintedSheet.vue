<script setup lang="ts">
import { onBeforeUnmount, watchEffect } from 'vue'

/**
 * A sheet as it prints, on A4 or Letter: margins of its own, and at the foot of every page the car, the version, the date, the name, and
 * page x of y. Buttons and fields around it stay on the screen.
 */
const props = defineProps<{ car: string; version: string; date: string; name: string; rehearsal: boolean }>()
const quoted = (text: string): string => `"${text.replace(/["\\]/g, '\\$&').replace(/\s+/g, ' ')}"`
const rules = new CSSStyleSheet()
watchEffect(() =>
  rules.replaceSync(`@page {
    size: auto;
    margin: 18mm 16mm 20mm 20mm;
    @bottom-left { content: ${quoted([props.car, props.version].filter(Boolean).join(', '))}; font: 9pt 'Barlow', sans-serif; }
    @top-center { content: ${props.rehearsal ? quoted('Rehearsal, not the car') : 'none'}; font: 600 12pt 'Barlow', sans-serif; }
    @bottom-center { content: ${quoted([props.name, props.date].filter(Boolean).join(', '))}; font: 9pt 'Barlow', sans-serif; }
    @bottom-right { content: "page " counter(page) " of " counter(pages); font: 9pt 'Barlow', sans-serif; }
  }`),
)
document.adoptedStyleSheets = [...document.adoptedStyleSheets, rules]
onBeforeUnmount(() => (document.adoptedStyleSheets = document.adoptedStyleSheets.filter((s) => s !== rules)))
</script>

<template>
  <article class="paper">
    <p v-if="rehearsal" class="practice head" data-testid="practice">Rehearsal, not the car</p>
    <slot />
  </article>
</template>

<style scoped>
.paper {
  max-width: 820px;
  padding: var(--s6) 52px;
  border: 1px solid var(--hair);
  box-shadow: 3px 4px 0 var(--hair);
  /* paper is white by night too, and what is drawn on it is ink */
  --ink: #14202c;
  --soft: #4d5864;
  --hair: #c9c4b8;
  --paper: #fff;
  --sheet: #fff;
  --wash: #e8edf0;
  --warn: #855800;
  --stop: #b82f17;
  --data: #2b5c8a;
  background: #fff;
  color: #14202c;
}
.practice {
  border: 3px dashed currentColor;
  padding: var(--s2) var(--s4);
  margin-bottom: var(--s4);
  text-align: center;
  font-size: var(--t4);
  text-transform: uppercase;
  letter-spacing: 0.1em;
}
.paper :deep(section) {
  break-inside: avoid;
}
@media print {
  .paper {
    max-width: none;
    padding: 0;
    border: 0;
    box-shadow: none;
    color: #000;
  }
  .paper :deep(button),
  .paper :deep(form) {
    display: none;
  }
}
</style>
