<script setup lang="ts">
import { onBeforeUnmount, onMounted } from 'vue'

/**
 * Pump and key off: over everything, always. Messages stand at the top, sheets open under it, and Escape stops whatever has the focus.
 * What else belongs beside it (clock, state of the pump) goes into the slot.
 */
const emit = defineEmits<{ stop: [] }>()
function onKey(event: KeyboardEvent): void {
  if (event.key === 'Escape') emit('stop')
}
onMounted(() => {
  window.addEventListener('keydown', onKey, { capture: true })
  document.body.classList.add('with-stop-bar')
})
onBeforeUnmount(() => {
  window.removeEventListener('keydown', onKey, { capture: true })
  document.body.classList.remove('with-stop-bar')
})
</script>

<template>
  <div class="space flex-none h-92px" aria-hidden="true"></div>
  <teleport to="body">
    <div class="stop-bar">
      <button class="off" data-testid="off" @click="emit('stop')">Pump and key off <small>Esc</small></button>
      <slot />
    </div>
  </teleport>
</template>

<style scoped>
/* over the job line's and docket's columns it does not go: the work between them is where the thumb is */
.stop-bar {
  position: fixed;
  /* over Naive UI's sheets and messages, which count up from 2000 */
  z-index: 100000;
  left: 212px;
  right: 316px;
  bottom: 0;
  display: flex;
  gap: var(--s4);
  align-items: center;
  padding: var(--s2) var(--s5) var(--s4);
  background: var(--sheet);
  border-top: 2px solid var(--ink);
}
.off {
  flex: 1;
  min-height: 68px;
  border: 0;
  background: var(--stop);
  color: var(--onInk);
  font: 600 var(--t5) var(--head);
  cursor: pointer;
}
.off small {
  font: 600 var(--t2) var(--head);
  border: 1px solid currentColor;
  padding: 0 var(--s2);
  vertical-align: middle;
}
@media (max-width: 1000px) {
  /* here it stands under everything; the shell ends above it */
  .space {
    display: none;
  }
  .stop-bar {
    left: 0;
    right: 0;
  }
}
@media print {
  .stop-bar {
    display: none;
  }
}
</style>
