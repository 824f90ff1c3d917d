<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { checkParameter, parameterGroups, parameterSpecs, type ParameterGroup, type ParameterKey, type TuneParameters } from '@vectum/core'
import CellInput from '../../quantity/CellInput.vue'
import { useLanding } from '../../shell/landing.ts'

/** Every parameter of a tune, by what it is for, with where it came from; a change goes into the draft of a new version. */
const props = defineProps<{ parameters: TuneParameters; saved: TuneParameters; provenance: Record<string, string> }>()
const emit = defineEmits<{ change: [parameters: TuneParameters] }>()
const problem = ref<string | null>(null)
const groups = computed(() =>
  (Object.keys(parameterGroups) as ParameterGroup[]).map((id) => ({
    id,
    title: parameterGroups[id],
    keys: (Object.keys(parameterSpecs) as ParameterKey[]).filter((k) => parameterSpecs[k].group === id),
  })),
)
const curveOf = (key: ParameterKey) => props.parameters[key] as [number, number][]
const changed = (key: ParameterKey) => JSON.stringify(props.parameters[key]) !== JSON.stringify(props.saved[key])
/** a value that is offered for one of them: what the unit was read to hold */
const landing = useLanding()
const offered = (key: ParameterKey) =>
  landing.at.value === key && landing.offer.value !== String(props.parameters[key]) ? landing.offer.value : null
function takeOffer(key: ParameterKey): void {
  put(key, offered(key)!)
  landing.done()
}
function put(key: ParameterKey, text: string, point?: { row: number; column: 0 | 1 }): void {
  const value = Number(text.trim().replace(',', '.'))
  if (text.trim() === '' || !Number.isFinite(value)) {
    problem.value = `${parameterSpecs[key].label}: "${text}" is not a number`
    return
  }
  const next = point
    ? curveOf(key).map((p, i) => (i === point.row ? ((point.column ? [p[0], value] : [value, p[1]]) as [number, number]) : p))
    : value
  const rising = !point || (next as [number, number][]).every((p, i, all) => i === 0 || p[0] > all[i - 1][0])
  problem.value = rising ? checkParameter(key, next) : `${parameterSpecs[key].label}: points must rise in ${parameterSpecs[key].over}`
  if (!problem.value) emit('change', { ...props.parameters, [key]: next } as TuneParameters)
}
</script>

<template>
  <div>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
    <section v-for="g in groups" :key="g.id">
      <h2 class="mx-0 mt-4 mb-1">{{ g.title }}</h2>
      <div v-for="key in g.keys" :key="key" class="line" :class="{ changed: changed(key) }" :data-at="key">
        <span class="label">{{ parameterSpecs[key].label }} <small class="soft block">{{ provenance[key] ?? '' }}</small></span>
        <span v-if="parameterSpecs[key].over" class="curve flex flex-wrap gap-y-1 gap-x-4 items-center">
          <span v-for="(p, row) in curveOf(key)" :key="row" class="point inline-flex gap-1 items-center">
            <cell-input
              :value="p[0]"
              :label="`${parameterSpecs[key].label}, point ${row + 1}, ${parameterSpecs[key].over}`"
              numeric
              @commit="(t) => put(key, t, { row, column: 0 })"
            />
            <small class="soft">{{ parameterSpecs[key].over }}</small>
            <cell-input
              :value="p[1]"
              :label="`${parameterSpecs[key].label}, point ${row + 1}, ${parameterSpecs[key].unit}`"
              numeric
              @commit="(t) => put(key, t, { row, column: 1 })"
            />
          </span>
          <small class="soft">{{ parameterSpecs[key].unit }}</small>
        </span>
        <span v-else class="inline-flex gap-1 items-center">
          <cell-input :value="parameters[key] as number" :label="parameterSpecs[key].label" numeric @commit="(t) => put(key, t)" />
          <small class="soft">{{ parameterSpecs[key].unit }}</small>
          <n-button v-if="offered(key) !== null" type="primary" data-testid="take-offer" @click="takeOffer(key)"
            >Take {{ offered(key) }} {{ parameterSpecs[key].unit }}</n-button
          >
        </span>
      </div>
    </section>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 220px minmax(0, 1fr);
  gap: var(--s3);
  align-items: center;
  border-bottom: 1px dotted var(--hair);
  padding: var(--s1) 0 var(--s1) var(--s2);
}
.changed {
  border-left: 5px solid var(--data);
  padding-left: var(--s1);
}
.line :deep(input) {
  width: 74px;
}
</style>
