<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { checkFact, type PortKind, portKinds, portsOf, reservoirOf, vacuumMap, wantsReservoir } from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { pick, quantity, yesNo } from '../../quantity/field.ts'
import { idOf } from '../../quantity/id-of.ts'
import OptionRow from '../../quantity/OptionRow.vue'
import PortMap from './PortMap.vue'
import { useFitup } from './use-fitup.ts'

/** Which hose goes to which port, what is wrong with that, and what each port is. */
const { settings, c, fitup, change } = useFitup()
const map = computed(() => vacuumMap(c.value))
const vacuum = computed(() => fitup.value.vacuum ?? {})
const picked = ref<string | null>(null)
const port = ref<string | null>(null)
const chosen = computed(() => map.value.consumers.find((x) => x.id === picked.value) ?? null)
const usual = computed(() => vacuum.value.ports === undefined)
function join(consumer: string, to: string): void {
  change(`vacuum.joined.${consumer}`, to)
  picked.value = null
}
const own = (): void => {
  if (usual.value) change('vacuum.ports', portsOf(c.value))
}
const portFields = computed(() =>
  port.value && !usual.value
    ? [
        pick(`choices.fitup.vacuum.ports.${port.value}.kind`, Object.entries(portKinds)),
        quantity(`choices.fitup.vacuum.ports.${port.value}.boreMm`, 'length', 'inside, by the shank of a drill'),
        yesNo(`choices.fitup.vacuum.ports.${port.value}.capped`),
      ].map((f) => ({ ...f, label: f.label.split(', ')[0] }))
    : [],
)
const name = ref('')
const kind = ref<PortKind>('manifold')
const problem = ref<string | null>(null)
const kinds = (Object.keys(portKinds) as PortKind[]).map((value) => ({
  value,
  label: { manifold: 'full vacuum', ported: 'ported', clean: 'clean air', runner: 'one runner' }[value],
}))
function addPort(): void {
  const id = idOf(name.value)
  const value = { name: name.value.trim(), kind: kind.value }
  problem.value = id
    ? portsOf(c.value)[id]
      ? `“${value.name}” is there already`
      : checkFact(`choices.fitup.vacuum.ports.${id}`, value)
    : 'must have a name that begins with a letter'
  if (problem.value) return
  change('vacuum.ports', { ...portsOf(c.value), [id]: value })
  name.value = ''
}
const reservoir = computed(() => (wantsReservoir(c.value) ? reservoirOf(c.value) : null))
const mapFields = [
  quantity('choices.fitup.vacuum.mapHoseMm', 'length', 'short, 3 to 4 mm inside', 0),
  yesNo('choices.fitup.vacuum.mapDrains', 'downhill to its port all the way'),
]
const reservoirFields = [
  yesNo('choices.fitup.vacuum.collector', 'one small bore from every runner'),
  quantity('choices.fitup.vacuum.reservoirL', 'volume', undefined, 1),
  quantity('choices.fitup.vacuum.boosterL', 'volume', '1.2 L until told: an eight-inch booster', 1),
]
</script>

<template>
  <section class="pad">
    <p class="measure">
      {{
        chosen
          ? `${chosen.name}: ${chosen.why}. Now tap its port.`
          : 'Draw each hose from its consumer to a port, or tap one, then the other.'
      }}
    </p>
    <port-map :map="map" :picked="picked" @pick="(id) => (picked = id)" @join="join" @port="(id) => ((port = id), own())" />
    <div class="act">
      <n-button v-if="chosen?.port" size="large" data-testid="hose-off" @click="change(`vacuum.joined.${chosen.id}`, undefined)"
        >Take that hose off</n-button
      >
    </div>
    <p v-if="usual" class="soft">The ports drawn are those of a usual body: tap one, or add one, and they are yours.</p>
    <ul v-if="map.problems.length && fitup.vacuum" class="problems">
      <li v-for="p in map.problems" :key="`${p.consumer}${p.port}${p.what}`" :class="p.severity">
        <strong>{{ p.what }}.</strong> {{ p.because }} {{ p.remedy }}
      </li>
    </ul>
    <template v-if="port && portFields.length">
      <h2>Port, {{ map.ports.find((p) => p.id === port)?.name }}</h2>
      <div class="fields"><fact-field v-for="f in portFields" :key="f.path" :field="f" /></div>
      <n-button size="small" @click="(change(`vacuum.ports.${port}`, undefined), (port = null))">Take this port out</n-button>
    </template>
    <h2>One more port</h2>
    <div class="row">
      <n-input v-model:value="name" size="large" placeholder="rear, small" :input-props="{ 'aria-label': 'Name of the port' }" />
      <option-row v-model="kind" :options="kinds" firm label="It gives" />
      <n-button size="large" data-testid="port-add" @click="addPort">Add the port</n-button>
    </div>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
    <h2>The pressure sensor’s hose</h2>
    <div class="fields"><fact-field v-for="f in mapFields" :key="f.path" :field="f" /></div>
    <template v-if="reservoir">
      <h2>Brakes on individual runners</h2>
      <p data-testid="reservoir">
        The engine gives {{ settings.format(reservoir.idleVacuumKpa, 'pressure') }} at idle;
        <template v-if="reservoir.wantedL !== null"
          >{{ reservoir.strokes }} applications that leave {{ settings.format(reservoir.leftKpa, 'pressure') }} want
          {{ settings.format(reservoir.wantedL, 'volume', 1) }}.</template
        ><template v-else>that is too little for any reservoir: a vacuum pump.</template>
      </p>
      <div class="fields"><fact-field v-for="f in reservoirFields" :key="f.path" :field="f" /></div>
    </template>
  </section>
</template>

<style scoped>
.problems {
  padding-left: var(--s4);
}
.row > :first-child {
  max-width: 240px;
}
</style>
