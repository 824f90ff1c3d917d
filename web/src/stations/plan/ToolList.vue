<script setup lang="ts">
import { computed } from 'vue'
import { toolsOf, toolStatuses, type ToolStatus } from '@vectum/core'
import OptionRow from '../../quantity/OptionRow.vue'
import { useBuild } from '../../stores/build.ts'

/** One list of tools for the job: what each is for, and whether it is there, borrowed, made or bought. */
const builds = useBuild()
const tools = computed(() => toolsOf(builds.context!))
const open = computed(() => tools.value.filter((t) => t.status !== 'have').length)
const words: Record<ToolStatus, string> = { have: 'have', borrow: 'borrow', make: 'make', buy: 'buy' }
const options = toolStatuses.map((value) => ({ value, label: words[value] }))
</script>

<template>
  <p v-if="!tools.length" class="soft">Choose a route first; the tools follow from it.</p>
  <p v-else><strong class="num big">{{ tools.length - open }}</strong> of {{ tools.length }} at hand.</p>
  <ul class="list-none my-3 mx-0 p-0">
    <li v-for="t in tools" :key="t.id" :class="{ there: t.status === 'have' }">
      <span>
        <strong class="head block text-t3">{{ t.name }}</strong>
        <small class="soft">{{ t.used }}; {{ t.how }}{{ t.status ? '' : `; usually to ${words[t.advice]}` }}</small>
      </span>
      <option-row
        :model-value="t.status ?? undefined"
        :options="options"
        :label="`${t.name}: where from`"
        @update:model-value="(v) => builds.change(`choices.plan.tools.${t.id}`, v)"
      />
    </li>
  </ul>
</template>

<style scoped>
.big {
  font-size: var(--t5);
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s2) var(--s4);
  align-items: center;
  justify-content: space-between;
  border-bottom: 1px solid var(--hair);
  padding: var(--s2) 0;
}
li span {
  flex: 1 1 260px;
}
.there strong {
  color: var(--soft);
}
</style>
