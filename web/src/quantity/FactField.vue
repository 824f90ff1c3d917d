<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { checkFact, CoreError, displayUnit, firingOrdersFor, parseFiringOrder, parseQuantity, toDisplay, valueAt } from '@vectum/core'
import { useBuild } from '../stores/build.ts'
import { useSettings } from '../stores/settings.ts'
import type { Field, Option } from './field.ts'
import { useLanding } from '../shell/landing.ts'
import OptionRow from './OptionRow.vue'
import QuantityField from './QuantityField.vue'

/** One fact or choice of the build, whatever its kind: shown, typed, checked by the core, kept. */
const props = defineProps<{ field: Field }>()
const builds = useBuild()
const settings = useSettings()
const landing = useLanding()
const value = computed(() => valueAt(builds.current, props.field.path))
const number = computed(() => value.value as number | undefined)
const optionValue = computed(() => value.value as Option['value'] | undefined)
const problem = ref<string | null>(null)
const text = ref('')
const asText = computed(() => {
  const { field } = props
  if (value.value === undefined) return ''
  if (!Array.isArray(value.value)) return String(value.value)
  if (field.kind !== 'numbers') return value.value.join('-')
  const unit = displayUnit(field.dimension, settings.units)
  return (value.value as number[]).map((v) => String(Number(toDisplay(v, unit).toFixed(Math.max(unit.decimals, 0))))).join('  ')
})
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
const wide = computed(
  () => props.field.kind === 'order' || props.field.kind === 'numbers' || (props.field.kind === 'choice' && props.field.options.length > 3),
)

function set(next: unknown): void {
  const refused = checkFact(props.field.path, next)
  problem.value = refused ? `${props.field.label} ${refused}` : null
  if (!refused) builds.change(props.field.path, next)
}
function commitText(): void {
  const { field } = props
  const typed = text.value.trim()
  if (typed === asText.value) {
    problem.value = null
    return
  }
  if (typed === '') return set(undefined)
  if (field.kind === 'order') {
    const order = parseFiringOrder(typed)
    if (!order) {
      problem.value = `"${typed}" is not a list of cylinders; type it like 1-5-3-6-2-4`
      return
    }
    return set(order)
  }
  if (field.kind === 'numbers') {
    try {
      return set(typed.split(/[\s;/]+/).map((part) => parseQuantity(part, field.dimension, settings.units, field.label)))
    } catch (error) {
      if (!(error instanceof CoreError)) throw error
      problem.value = `${error.message}; type the list like ${field.example}`
      return
    }
  }
  set(typed)
}
/** a value that a finding offers for this very field */
const offered = computed(() => {
  const { field } = props
  if (landing.at.value !== field.path || landing.offer.value === null) return null
  if (field.kind === 'choice') return field.options.find((o) => String(o.value) === landing.offer.value && o.value !== value.value) ?? null
  if (field.kind !== 'quantity') return null
  const offer = Number(landing.offer.value)
  return Number.isFinite(offer) && offer !== number.value
    ? { value: offer, label: settings.format(offer, field.dimension, field.decimals) }
    : null
})
function takeOffer(): void {
  set(offered.value!.value)
  landing.done()
}
/** what sums work with while it is not known, and why that */
const taken = computed(() => {
  const a = builds.context?.resolved.assumptions.find((x) => `facts.${x.path}` === props.field.path)
  return a ? `taken: ${settings.say(a.value)}, ${a.reason}` : null
})
function undo(): void {
  problem.value = null
  text.value = asText.value
}
</script>

<template>
  <div v-if="field.kind === 'quantity'" class="field min-w-0" :data-at="field.path">
    <quantity-field
      :input-id="id"
      :model-value="number"
      :label="field.label"
      :dimension="field.dimension"
      :decimals="field.decimals"
      :why="field.why"
      :check="(v) => checkFact(field.path, v)"
      @update:model-value="(v) => builds.change(field.path, v)"
    />
    <p v-if="taken" class="taken font-600">{{ taken }}</p>
    <n-button v-if="offered" size="large" type="primary" data-testid="take-offer" @click="takeOffer">Take {{ offered.label }}</n-button>
  </div>
  <div v-else class="field min-w-0" :class="{ wide }" :data-at="field.path">
    <label :id="`${id}-l`" :for="id">{{ field.label }}</label>
    <option-row
      v-if="field.kind === 'choice'"
      :model-value="optionValue"
      :options="field.options"
      :labelled-by="`${id}-l`"
      @update:model-value="set"
    />
    <input
      v-else-if="field.kind === 'date'"
      :id="id"
      type="date"
      class="date"
      :value="value ?? ''"
      @change="(e) => set((e.target as HTMLInputElement).value || undefined)"
    />
    <template v-else>
      <n-input
        v-model:value="text"
        :input-props="{ id, 'aria-invalid': problem !== null }"
        placeholder="not known"
        :status="problem ? 'error' : undefined"
        @change="commitText"
        @keydown.enter="commitText"
      />
      <div v-if="suggestions.length" class="known mt-1">
        <option-row
          :model-value="asText"
          :options="suggestions.map((o) => ({ value: o.join('-'), label: o.join('-') }))"
          label="Usual orders"
          firm
          @update:model-value="(o) => set(parseFiringOrder(o!))"
        />
      </div>
    </template>
    <n-button v-if="offered" size="large" type="primary" data-testid="take-offer" @click="takeOffer">Take {{ offered.label }}</n-button>
    <p v-if="problem" class="stop" role="alert">
      {{ problem }} <button class="plain undo underline text-inherit" @click="undo">put back</button>
    </p>
    <p v-else-if="field.why" class="soft">{{ field.why }}</p>
    <p v-if="taken" class="taken font-600">{{ taken }}</p>
  </div>
</template>

<style scoped>
.wide {
  grid-column: 1 / -1;
}
.date {
  min-height: 44px;
  width: 100%;
  border: 1px solid var(--soft);
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
  padding: 0 var(--s3);
}
p {
  margin: 2px 0 0;
  font-size: var(--t1);
  line-height: 1.25;
}
</style>
