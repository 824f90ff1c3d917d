<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { circuitsFromCsv, circuitsToCsv, CoreError } from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { pick } from '../../quantity/field.ts'
import { useLanding } from '../../shell/landing.ts'
import { saveFile } from '../../shell/save-file.ts'
import { useSettings } from '../../stores/settings.ts'
import CircuitEditor from './CircuitEditor.vue'
import OwnCircuitForm from './OwnCircuitForm.vue'
import { useHarness } from './use-harness.ts'

/** Every circuit with its wire and fuse, as the plan asks for it and as a person changed it; a tap opens one. */
const { builds, harness, change } = useHarness()
const settings = useSettings()
const landing = useLanding()
const open = ref<string | null>(null)
const pathOf = /^choices\.wiring\.circuits\.([a-z0-9-]+)\./
watch(
  landing.at,
  (at) => {
    const id = at && (pathOf.exec(at)?.[1] ?? at)
    if (id && harness.value.wires.some((w) => w.circuit.id === id)) open.value = id
  },
  { immediate: true },
)
const place = (id: string): string => harness.value.places.get(id)?.label ?? id
const rows = computed(() =>
  harness.value.wires.map((w) => ({
    w,
    over: w.size !== null && w.size.dropV > w.circuit.dropLimitV + 1e-9,
    burns: w.size?.fuseA != null && w.size.fuseA > w.size.aloneA,
    edited: Object.keys(w.circuit.edit).length > 0,
  })),
)
const problem = ref<string | null>(null)
const saveCsv = (): void => saveFile('circuits.csv', new Blob([circuitsToCsv(harness.value)], { type: 'text/csv' }))
async function readCsv(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  try {
    const edits = circuitsFromCsv(await file.text(), harness.value)
    for (const [id, edit] of Object.entries(edits))
      for (const [field, value] of Object.entries(edit)) change(`circuits.${id}.${field}`, value)
    problem.value = Object.keys(edits).length ? null : 'Nothing in it differs from the list.'
  } catch (error) {
    if (!(error instanceof CoreError)) throw error
    problem.value = error.message
  }
}
const loom = pick('choices.wiring.loom', [
  ['new', 'all new'],
  ['sound', 'old parts, sound'],
  ['brittle', 'old parts, brittle'],
])
const ground = pick(
  'choices.wiring.unitGround',
  [
    ['own-wire', 'a wire of its own'],
    ['casting', 'its casting'],
  ],
  'to the battery’s post is best',
)
</script>

<template>
  <section class="pad">
    <div class="fields"><fact-field :field="loom" /><fact-field :field="ground" /></div>
    <div class="overflow-x-auto">
      <table class="circuits border-collapse w-full">
        <thead>
          <tr>
            <th>Circuit</th>
            <th class="n">Current</th>
            <th class="n">Cut</th>
            <th class="n">Wire</th>
            <th class="n">Fuse</th>
            <th class="n">Loses</th>
            <th>Colour</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="{ w, over, burns, edited } in rows" :key="w.circuit.id">
            <tr :class="{ open: open === w.circuit.id }" :data-at="w.circuit.id">
              <th scope="row">
                <button
                  class="name"
                  :aria-expanded="open === w.circuit.id"
                  :data-testid="`circuit-${w.circuit.id}`"
                  @click="open = open === w.circuit.id ? null : w.circuit.id"
                >
                  {{ w.circuit.name }}
                </button>
                <small class="soft"
                  >{{ place(w.circuit.from) }} → {{ place(w.circuit.to) }}{{ edited ? ', changed' : ''
                  }}{{ w.circuit.origin === 'own' ? ', own' : '' }}</small
                >
              </th>
              <td class="n">{{ settings.format(w.circuit.continuousA, 'current') }}</td>
              <td class="n">{{ settings.format(w.lengthM, 'distance') }}</td>
              <td class="n">
                <template v-if="w.size">{{ settings.format(w.size.areaMm2, 'wireArea', 2) }}</template
                ><strong v-else class="stop">none</strong>
              </td>
              <td class="n" :class="{ stop: burns }">{{ w.size?.fuseA ? settings.format(w.size.fuseA, 'current', 1) : '' }}</td>
              <td class="n" :class="{ warn: over }">{{ w.size ? settings.format(w.size.dropV, 'voltage', 3) : '' }}</td>
              <td>{{ w.colour }}</td>
            </tr>
            <tr v-if="open === w.circuit.id">
              <td colspan="7"><circuit-editor :wire="w" :harness="harness" /></td>
            </tr>
          </template>
        </tbody>
      </table>
    </div>
    <template v-if="harness.leftOut.length">
      <h2>Left out</h2>
      <ul class="plain list-none p-0">
        <li v-for="x in harness.leftOut" :key="x.id">
          {{ x.name }}: {{ x.edit.leftOut }}
          <n-button size="small" @click="change(`circuits.${x.id}.leftOut`, undefined)">Take it in again</n-button>
        </li>
      </ul>
    </template>
    <own-circuit-form :harness="harness" />
    <div class="act">
      <n-button size="large" data-testid="circuits-csv" @click="saveCsv">Save the list as CSV</n-button>
      <label class="file"
        >Bring a changed list <input type="file" accept=".csv,text/csv" data-testid="circuits-back" @change="readCsv"
      /></label>
    </div>
    <p v-if="problem" class="alarm quiet" role="alert">{{ problem }}</p>
    <p v-if="builds.refused" class="stop">{{ builds.refused }}</p>
  </section>
</template>

<style scoped>
th,
td {
  text-align: left;
  padding: var(--s1) var(--s2);
  border-bottom: 1px solid var(--hair);
  font-weight: 400;
}
thead th {
  color: var(--soft);
}
.n {
  text-align: right;
  white-space: nowrap;
  font-family: var(--head);
}
.name {
  display: block;
  min-height: 44px;
  padding: 0;
  border: 0;
  background: none;
  color: var(--ink);
  font: 600 var(--t2) var(--text);
  text-align: left;
  cursor: pointer;
  text-decoration: underline;
  text-underline-offset: 3px;
}
.open {
  background: var(--wash);
}
</style>
