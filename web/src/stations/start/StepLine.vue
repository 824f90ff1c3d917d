<script setup lang="ts">
/** The steps of the first start in their order: what is done, which one is now, which one is looked at. */
defineProps<{ steps: readonly { id: string; title: string; done: boolean }[]; active: string; here: string }>()
const emit = defineEmits<{ pick: [id: string] }>()
</script>

<template>
  <ol class="steps" aria-label="Steps">
    <li v-for="(s, i) in steps" :key="s.id">
      <button :class="{ here: here === s.id, done: s.done }" :aria-current="here === s.id ? 'step' : undefined" @click="emit('pick', s.id)">
        <span class="num block text-t3">{{ i + 1 }}</span>{{ s.title
        }}<small class="block text-soft min-h-15px text-t1">{{ s.done ? 'done' : s.id === active ? 'now' : '' }}</small>
      </button>
    </li>
  </ol>
</template>

<style scoped>
.steps {
  display: grid;
  grid-template-columns: repeat(10, minmax(0, 1fr));
  list-style: none;
  margin: 0 0 var(--s2);
  padding: 0;
  border: 1px solid var(--soft);
}
.steps button {
  width: 100%;
  height: 100%;
  min-height: 60px;
  border: 0;
  border-right: 1px solid var(--hair);
  background: var(--sheet);
  color: var(--ink);
  font: 600 var(--t2)/1.1 var(--head);
  cursor: pointer;
  padding: var(--s1) var(--s2);
}
.steps .done {
  color: var(--clear);
}
.steps .here {
  background: var(--ink);
  color: var(--onInk);
}
.steps .here small {
  color: var(--onInk);
}
</style>
