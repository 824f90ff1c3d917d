<script setup lang="ts">
/** The rooms of a station; the one that is open stands in the address. Arrow keys move along. */
const props = defineProps<{ label: string; tabs: readonly { id: string; title: string }[]; idPrefix?: string }>()
const tab = defineModel<string>({ required: true })
function step(by: number, event: KeyboardEvent): void {
  const at = props.tabs.findIndex((t) => t.id === tab.value)
  const next = props.tabs[(at + by + props.tabs.length) % props.tabs.length]
  tab.value = next.id
  const buttons = (event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('[role="tab"]')
  buttons[props.tabs.indexOf(next)]?.focus()
}
</script>

<template>
  <div class="tabs" role="tablist" :aria-label="label" @keydown.right="step(1, $event)" @keydown.left="step(-1, $event)">
    <button v-for="t in tabs" :key="t.id" role="tab" :aria-selected="tab === t.id" :tabindex="tab === t.id ? 0 : -1" @click="tab = t.id">
      {{ t.title }}
    </button>
  </div>
</template>
