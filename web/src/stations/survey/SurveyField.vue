<script setup lang="ts">
import { NInput } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { checkFact, firingOrdersFor, parseFiringOrder, valueAt } from '@vectum/core'
import QuantityField from '../../quantity/QuantityField.vue'
import { useBuild } from '../../stores/build.ts'
import type { Field } from './fields.ts'

/** One fact of the survey, whatever its kind. */
const props = defineProps<{ field: Field }>()
const builds = useBuild()
const value = computed(() => valueAt(builds.current, props.field.path))
const number = computed(() => value.value as number | undefined)
const problem = ref<string | null>(null)
const text = ref('')
const asText = computed(() =>
  value.value === undefined
    ? ''
    : Array.isArray(value.value)
      ? value.value.join(props.field.kind === 'ratios' ? '  ' : '-')
      : String(value.value),
)
watch(
  asText,
  (now) => {
    if (!problem.value) text.value = now
  },
  { immediate: true },
)
const suggestions = computed(() =>
  props.field.kind === 'order'
    ? firingOrdersFor(builds.current?.facts.engine?.cylinders, builds.current?.facts.engine?.layout).slice(0, 4)
    : [],
)
const id = computed(() => props.field.path.replace(/\./g, '-'))

function set(next: unknown): void {
  const refused = checkFact(props.field.path, next)
  problem.value = refused ? `${props.field.label} ${refused}` : null
  if (!refused) builds.change(props.field.path, next)
}
function commitText(): void {
  const typed = text.value.trim()
  if (typed === asText.value) {
    problem.value = null
    return
  }
  if (typed === '') return set(undefined)
  if (props.field.kind === 'order') {
    const order = parseFiringOrder(typed)
    if (!order) {
      problem.value = `"${typed}" is not a list of cylinders; type it like 1-5-3-6-2-4`
      return
    }
    return set(order)
  }
  if (props.field.kind === 'ratios') {
    const ratios = typed.split(/[\s;/]+/).map((part) => Number(part.replace(',', '.')))
    if (ratios.some((r) => !Number.isFinite(r))) {
      problem.value = `"${typed}" is not a list of ratios; type it like 3.10 1.90 1.35 1.00`
      return
    }
    return set(ratios)
  }
  set(typed)
}
function undo(): void {
  problem.value = null
  text.value = asText.value
}
</script>

<template>
  <quantity-field
    v-if="field.kind === 'quantity'"
    :input-id="id"
    :model-value="number"
    :label="field.label"
    :dimension="field.dimension"
    :decimals="field.decimals"
    :why="field.why"
    :check="(v) => checkFact(field.path, v)"
    @update:model-value="(v) => builds.change(field.path, v)"
  />
  <div v-else class="field" :class="{ wide: field.kind === 'order' || (field.kind === 'choice' && field.options.length > 3) }">
    <label :id="`${id}-l`" :for="id">{{ field.label }}</label>
    <div v-if="field.kind === 'choice'" class="options" role="radiogroup" :aria-labelledby="`${id}-l`">
      <button
        v-for="option in field.options"
        :key="String(option.value)"
        type="button"
        role="radio"
        :aria-checked="value === option.value"
        :class="{ on: value === option.value }"
        @click="set(value === option.value ? undefined : option.value)"
      >
        {{ option.label }}
      </button>
    </div>
    <template v-else>
      <n-input
        v-model:value="text"
        :input-props="{ id, 'aria-invalid': problem !== null }"
        placeholder="not known"
        :status="problem ? 'error' : undefined"
        @change="commitText"
        @keydown.enter="commitText"
      />
      <div v-if="suggestions.length" class="options known">
        <button
          v-for="order in suggestions"
          :key="order.join()"
          type="button"
          :class="{ on: asText === order.join('-') }"
          @click="set(order)"
        >
          {{ order.join('-') }}
        </button>
      </div>
    </template>
    <p v-if="problem" class="stop" role="alert">{{ problem }} <button class="plain undo" @click="undo">put back</button></p>
    <p v-else-if="field.why" class="soft">{{ field.why }}</p>
  </div>
</template>

<style scoped>
.field {
  min-width: 0;
}
.wide {
  grid-column: 1 / -1;
}
label {
  display: block;
  font-size: 15px;
  font-weight: 600;
}
.options {
  display: flex;
  flex-wrap: wrap;
}
.options button {
  min-height: 44px;
  padding: 0 13px;
  border: 1px solid var(--soft);
  margin: 0 -1px -1px 0;
  background: var(--sheet);
  color: var(--ink);
  font:
    600 18px 'Barlow Condensed',
    sans-serif;
  cursor: pointer;
}
.options button:hover {
  background: var(--wash);
}
.options .on {
  background: var(--ink);
  color: var(--onInk);
}
.known {
  margin-top: 4px;
}
.known button {
  min-height: 36px;
  font-size: 16px;
}
p {
  margin: 2px 0 0;
  font-size: 14px;
  line-height: 1.25;
}
.undo {
  text-decoration: underline;
  color: inherit;
}
</style>
