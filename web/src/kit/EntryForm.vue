<script setup lang="ts">
import { NButton, NCheckbox, NInput } from 'naive-ui'
import { computed, reactive, watch } from 'vue'
import { checkReading, entryKinds, parseFiringOrder, type EntryField, type EntryKind } from '@vectum/core'
import OptionRow from '../quantity/OptionRow.vue'
import QuantityField from '../quantity/QuantityField.vue'
import { useBuild } from '../stores/build.ts'

/**
 * The form of any kind of entry, as its declaration in core tells it: fields with their bounds, ticks, and the answers that record it.
 * @prop given what the screen knows already and nobody types, such as the step or the joint
 * @prop start what the fields begin with
 * @prop without fields that do not come into question here
 * @prop needs fields that must be filled here, though the entry may be without them elsewhere
 */
const props = defineProps<{
  kind: EntryKind
  given?: Record<string, unknown>
  start?: Record<string, unknown>
  without?: string[]
  needs?: string[]
  disabled?: boolean
  /** where several forms of one kind stand on a screen: which one this is */
  each?: string
}>()
/** `made` tells the entry's id, once it has a name under it: a verdict can be asked on it */
const emit = defineEmits<{ recorded: [value: Record<string, unknown>]; made: [entryId: string] }>()
const builds = useBuild()
type Value = number | string | boolean | undefined
const spec = computed(() => entryKinds[props.kind])
const fields = computed(() =>
  Object.entries((spec.value.fields ?? {}) as Record<string, EntryField>).filter(([name]) => !props.without?.includes(name)),
)
const answers = computed(() => spec.value.answers ?? [{ label: 'Record', value: {} }])
const typed = reactive<Record<string, Value>>({})
const problems = reactive<Record<string, string | null>>({})
// by what it says: the object is made anew with every change of the build, and what is half typed must stay
watch(
  () => JSON.stringify(props.start ?? {}),
  (start) => Object.assign(typed, JSON.parse(start) as Record<string, Value>),
  { immediate: true },
)

const shape = computed(() => spec.value.schema.shape as Record<string, { safeParse: (v: unknown) => { success: boolean } }>)
const numberIn = (name: string): number | undefined => typed[name] as number | undefined
const optional = (name: string): boolean => shape.value[name]?.safeParse(undefined).success ?? true
const cylinders = computed(() => builds.context?.facts.engine?.firingOrder ?? [])
/** A field as its schema wants it; undefined while it is empty. */
function valueOf(name: string, { input }: EntryField): unknown {
  const value = typed[name]
  if (input.kind === 'tick') return value === true ? true : undefined
  if (input.kind === 'cylinders') return typeof value === 'string' && value.trim() ? (parseFiringOrder(value) ?? undefined) : undefined
  if (input.kind === 'text') return typeof value === 'string' && value.trim() ? value.trim() : undefined
  return value
}
const may = (name: string): boolean => optional(name) && !props.needs?.includes(name)
const complete = computed(() => fields.value.every(([name, field]) => may(name) || valueOf(name, field) !== undefined))

function record(answer: Record<string, unknown>): void {
  const value: Record<string, unknown> = { ...props.given }
  for (const [name, field] of fields.value) {
    const one = valueOf(name, field)
    if (one !== undefined) value[name] = one
  }
  Object.assign(value, answer)
  for (const [name, { input, label }] of fields.value) {
    const wanted = cylinders.value.length
    problems[name] =
      input.kind === 'cylinders' && wanted > 0 && (value[name] as number[]).length !== wanted
        ? `${label} must name ${wanted} cylinders, such as ${cylinders.value.join('-')}`
        : null
    if (problems[name]) return
  }
  builds.record(props.kind, value, spec.value.tool ? { instrument: spec.value.tool } : {}, (entryId) => emit('made', entryId))
  // the next reading begins as this one did
  for (const [name] of fields.value) typed[name] = props.start?.[name] as Value
  emit('recorded', value)
}
function asItFires(name: string): void {
  typed[name] = cylinders.value.join('-')
  record({})
}
const beside = computed(() => fields.value.some(([, field]) => field.input.kind !== 'tick'))
const id = (name: string): string => `${props.kind.replace('.', '-')}-${name}${props.each ? `-${props.each}` : ''}`
</script>

<template>
  <div class="entry" :class="{ beside }">
    <template v-for="[name, field] in fields" :key="name">
      <quantity-field
        v-if="field.input.kind === 'quantity'"
        :model-value="numberIn(name)"
        :label="field.label"
        :dimension="field.input.dimension"
        :decimals="field.input.decimals"
        :why="field.why"
        :input-id="id(name)"
        placeholder=""
        :check="(v) => checkReading(kind, name, v)"
        @update:model-value="(v) => (typed[name] = v)"
      />
      <n-checkbox
        v-else-if="field.input.kind === 'tick'"
        :checked="typed[name] === true"
        :data-testid="id(name)"
        :label="field.label"
        @update:checked="(v) => (typed[name] = v)"
      />
      <div v-else-if="field.input.kind === 'choice'">
        <span :id="`${id(name)}-l`" class="label">{{ field.label }}</span>
        <option-row
          :model-value="typed[name]"
          :options="field.input.options"
          :labelled-by="`${id(name)}-l`"
          @update:model-value="(v) => (typed[name] = v)"
        />
      </div>
      <div v-else class="text w-220px">
        <label :for="id(name)" class="label">{{ field.label }}</label>
        <n-input
          :value="(typed[name] as string) ?? ''"
          :input-props="{ id: id(name) }"
          :placeholder="field.input.kind === 'cylinders' ? cylinders.join('-') : ''"
          @update:value="(v) => (typed[name] = v)"
          @keydown.enter="complete && record(answers[0].value)"
        />
        <p v-if="problems[name]" class="stop mx-0 mt-2px mb-0" role="alert">{{ problems[name] }}</p>
      </div>
    </template>
    <n-button
      v-for="(answer, i) in answers"
      :key="answer.label"
      :size="beside ? 'medium' : 'large'"
      :type="i === 0 ? 'primary' : 'default'"
      :disabled="disabled || !complete"
      :data-testid="i === 0 ? `record-${kind}` : undefined"
      @click="record(answer.value)"
      >{{ answer.label }}</n-button
    >
    <n-button
      v-for="[name] in fields.filter(([, f]) => f.input.kind === 'cylinders')"
      :key="`${name}-fires`"
      size="large"
      @click="asItFires(name)"
      >As the engine fires</n-button
    >
  </div>
</template>

<style scoped>
.entry {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s3);
  align-items: start;
  margin: var(--s2) 0 var(--s3);
}
/* beside fields a tick or a button stands in the line of the boxes, under where a label would be */
.beside > :deep(.n-button),
.beside > :deep(.n-checkbox) {
  margin-top: var(--s5);
}
.entry :deep(.field) {
  width: 170px;
}
</style>
