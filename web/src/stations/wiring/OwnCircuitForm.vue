<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, reactive, ref } from 'vue'
import { checkFact, type Harness } from '@vectum/core'
import { idOf } from '../../quantity/id-of.ts'
import OptionRow from '../../quantity/OptionRow.vue'
import QuantityField from '../../quantity/QuantityField.vue'
import { useHarness } from './use-harness.ts'

/** A circuit that only the person knows of: it is fused, sized and laid like the others. */
const props = defineProps<{ harness: Harness }>()
const { wiring, change } = useHarness()
const typed = reactive({
  name: '',
  from: 'fuses',
  to: 'fan',
  continuousA: undefined as number | undefined,
  feed: 'battery' as 'battery' | 'keyed' | 'unit',
  why: '',
})
const problem = ref<string | null>(null)
const places = computed(() => [...props.harness.places.values()])
const feeds = [
  { value: 'battery' as const, label: 'the battery' },
  { value: 'keyed' as const, label: 'the key' },
  { value: 'unit' as const, label: 'the unit' },
]
function add(): void {
  const own = { ...typed, name: typed.name.trim(), why: typed.why.trim() }
  const id = `own-${idOf(typed.name) || 'circuit'}`.slice(0, 40)
  problem.value = wiring.value.own?.[id] ? 'there is one of that name' : checkFact(`choices.wiring.own.${id}`, own)
  if (problem.value) return
  change(`own.${id}`, own)
  Object.assign(typed, { name: '', continuousA: undefined, why: '' })
}
</script>

<template>
  <details>
    <summary class="min-h-44px cursor-pointer">A circuit of your own</summary>
    <div class="fields">
      <div class="field">
        <label for="own-name">Name</label><n-input v-model:value="typed.name" size="large" :input-props="{ id: 'own-name' }" />
      </div>
      <div v-for="end in ['from', 'to'] as const" :key="end" class="field">
        <label :for="`own-${end}`">{{ end === 'from' ? 'From' : 'To' }}</label>
        <select :id="`own-${end}`" v-model="typed[end]">
          <option v-for="p in places" :key="p.id" :value="p.id">{{ p.label }}</option>
        </select>
      </div>
      <quantity-field v-model="typed.continuousA" label="Current, steady" dimension="current" input-id="own-amps" />
      <div class="field">
        <span>Fed from</span>
        <option-row v-model="typed.feed" :options="feeds" firm label="Fed from" />
      </div>
      <div class="field">
        <label for="own-why">Why</label><n-input v-model:value="typed.why" size="large" :input-props="{ id: 'own-why' }" />
      </div>
    </div>
    <n-button size="large" data-testid="own-add" @click="add">Add it</n-button>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
  </details>
</template>

<style scoped>
.field {
  display: flex;
  flex-direction: column;
}
</style>
