<script setup lang="ts">
import { NButton, NCheckbox } from 'naive-ui'
import { computed, ref } from 'vue'
import { isOwnWork, tuneDifferences, type TuneDocument } from '@vectum/core'

/** What the set-up of today would make of this version, value by value: only what is picked is taken, into a new version. */
const props = defineProps<{ have: TuneDocument; fresh: TuneDocument }>()
const emit = defineEmits<{ take: [ids: string[]]; close: [] }>()
const differences = computed(() => tuneDifferences(props.have, props.fresh))
// a table that was learned or edited by hand is not offered as taken
const own = (id: string) => isOwnWork(props.have, id)
const picked = ref(new Set(differences.value.filter((d) => !own(d.id) && d.id !== 'axes').map((d) => d.id)))
function toggle(id: string, on: boolean): void {
  const next = new Set(picked.value)
  if (on) next.add(id)
  else next.delete(id)
  picked.value = next
}
</script>

<template>
  <section class="again" aria-label="Set-up computed again">
    <h2>Computed again from today’s survey and plan</h2>
    <p v-if="!differences.length">Nothing would change.</p>
    <template v-else>
      <p class="soft">Pick what to take; everything else stays as it is. It becomes a new version.</p>
      <ul class="list-none p-0 mx-0 mt-0 mb-3">
        <li
          v-for="d in differences"
          :key="d.id"
          class="grid grid-cols-[260px_minmax(0,1fr)_auto] gap-3 items-center dots-b-hair min-h-40px"
        >
          <n-checkbox :checked="picked.has(d.id)" :label="d.label" @update:checked="(on: boolean) => toggle(d.id, on)" />
          <span>{{ d.from }} → {{ d.to }}</span>
          <small v-if="own(d.id)" class="warn">learned or edited here</small>
        </li>
      </ul>
    </template>
    <n-button type="primary" :disabled="!picked.size" data-testid="take-setup" @click="emit('take', [...picked])"
      >Make a version with {{ picked.size }} taken</n-button
    >
    <n-button @click="emit('close')">Leave it</n-button>
  </section>
</template>

<style scoped>
.again {
  border: 1px solid var(--ink);
  border-left: 6px solid var(--data);
  padding: var(--s3) var(--s4);
  margin-bottom: var(--s3);
}
.again > button {
  margin-right: var(--s2);
}
</style>
