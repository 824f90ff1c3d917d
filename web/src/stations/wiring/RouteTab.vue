<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import FactField from '../../quantity/FactField.vue'
import OptionRow from '../../quantity/OptionRow.vue'
import { pick, quantity } from '../../quantity/field.ts'
import { useLanding } from '../../shell/landing.ts'
import { useSettings } from '../../stores/settings.ts'
import BayPlan from './BayPlan.vue'
import HarnessTree from './HarnessTree.vue'
import { useHarness } from './use-harness.ts'

/** The routes on the car: places dragged, a circuit's way proposed or drawn over way points; the same harness as a tree beneath. */
const { builds, harness, wiring, baseMm, dragged, change } = useHarness()
const settings = useSettings()
const landing = useLanding()
const picked = ref<string | null>(null)
watch(landing.at, (at) => at && harness.value.wires.some((w) => w.circuit.id === at) && (picked.value = at), { immediate: true })
const whole = ref(false)
const views = [
  { value: false, label: 'Bay' },
  { value: true, label: 'Whole car' },
]
const wire = computed(() => harness.value.wires.find((w) => w.circuit.id === picked.value) ?? null)
const drawn = ref<string[] | null>(null)
const tap = (id: string): void => {
  if (drawn.value) drawn.value = drawn.value.at(-1) === id ? drawn.value.slice(0, -1) : [...drawn.value, id]
}
function keepWay(): void {
  change(`circuits.${picked.value}.via`, drawn.value!)
  drawn.value = null
}
const label = (id: string): string => harness.value.places.get(id)?.label ?? id.replaceAll('-', ' ')
const holes = computed(() => [...new Set(harness.value.wires.flatMap((w) => w.run.panels))])
const fields = [
  quantity('choices.wiring.wheelbaseMm', 'length', 'the scale of the plan'),
  pick('choices.wiring.exhaustSide', [
    ['left', 'left'],
    ['right', 'right'],
    ['both', 'both'],
  ]),
  pick('choices.wiring.batterySide', [
    ['left', 'left'],
    ['right', 'right'],
  ]),
  quantity('choices.wiring.bayC', 'temperature', '80 °C until measured'),
]
const near = computed(() => harness.value.wires.filter((w) => w.run.near.length))
</script>

<template>
  <section class="pad">
    <div class="bar">
      <label class="circuit flex gap-2 items-center"
        >Circuit
        <select v-model="picked" data-testid="pick-circuit" :disabled="drawn !== null">
          <option :value="null">all of them</option>
          <option v-for="w in harness.wires" :key="w.circuit.id" :value="w.circuit.id">{{ w.circuit.name }}</option>
        </select></label
      >
      <option-row v-model="whole" :options="views" firm label="View" />
    </div>
    <div v-if="wire" class="act" data-testid="picked-wire">
      <strong class="big">{{ settings.format(wire.lengthM, 'distance') }}</strong>
      <span>{{ wire.run.through.map(label).join(' → ') }}</span>
      <span class="soft">{{ wire.measured ? 'measured' : wire.run.drawn ? 'drawn' : 'proposed' }}</span>
      <template v-if="drawn">
        <n-button size="large" type="primary" data-testid="keep-way" @click="keepWay">Keep this way</n-button>
        <n-button size="large" @click="drawn = null">Leave it</n-button>
        <span class="soft"
          >tap way points in order; the last one again takes it back: {{ drawn.map(label).join(' → ') || 'none yet' }}</span
        >
      </template>
      <template v-else>
        <n-button size="large" data-testid="draw-way" @click="drawn = []">Draw its way</n-button>
        <n-button v-if="wire.run.drawn" size="large" @click="change(`circuits.${picked}.via`, undefined)">Take the proposed way</n-button>
      </template>
      <strong v-for="n in wire.run.near" :key="n.hazard.label" class="warn"
        >{{ settings.format(n.distanceMm, 'length', 0) }} from the {{ n.hazard.label }}</strong
      >
    </div>
    <bay-plan
      :harness="harness"
      :base-mm="baseMm"
      :picked="picked"
      :drawing="drawn !== null"
      :whole="whole"
      @drag="dragged = $event"
      @move="(id, to) => ((dragged = null), change(`places.${id}`, to))"
      @place="(id) => (picked = harness.wires.find((w) => w.circuit.to === id || w.circuit.from === id)?.circuit.id ?? null)"
      @point="tap"
    />
    <p class="soft">
      Striped: plug leads, exhaust, fan. An empty square stands where its thing usually sits; drag it to where it is on this car.
    </p>
    <p v-if="near.length" class="warn">
      {{ near.length }} {{ near.length === 1 ? 'wire comes' : 'wires come' }} too near: {{ near.map((w) => w.circuit.name).join(', ') }}.
    </p>
    <div class="act">
      <n-button
        size="large"
        :type="wiring.laid ? 'default' : 'primary'"
        data-testid="laid"
        @click="change('laid', wiring.laid ? undefined : true)"
        >{{ wiring.laid ? 'The routes stand; open them again' : 'Looked at on the car: these routes stand' }}</n-button
      >
    </div>
    <h2>Holes</h2>
    <div class="act">
      <label v-for="id in holes" :key="id" class="tick flex gap-2 items-center min-h-44px" :data-at="id">
        <input
          type="checkbox"
          :checked="wiring.grommets?.[id] === true"
          :data-testid="`grommet-${id}`"
          @change="change(`grommets.${id}`, ($event.target as HTMLInputElement).checked)"
        />
        grommet in {{ label(id) }}
      </label>
    </div>
    <h2>Scale and surroundings</h2>
    <div class="fields"><fact-field v-for="f in fields" :key="f.path" :field="f" /></div>
    <harness-tree :harness="harness" :picked="picked" />
    <p v-if="builds.saving" class="soft">saving</p>
  </section>
</template>

<style scoped>
.big {
  font: 600 var(--t5) / 1.1 var(--head);
}
</style>
