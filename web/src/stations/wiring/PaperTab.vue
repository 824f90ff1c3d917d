<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { billOf, connectorsOf, drawingScale, fuseCard, labelsOf } from '@vectum/core'
import PrintedSheet from '../../kit/PrintedSheet.vue'
import OptionRow from '../../quantity/OptionRow.vue'
import { saveFile } from '../../shell/save-file.ts'
import { useSettings } from '../../stores/settings.ts'
import BayPlan from './BayPlan.vue'
import { PLAN_WIDTH } from './plan-frame.ts'
import { useHarness } from './use-harness.ts'

/** What goes out on paper: cut list, pin-outs, labels at true size, fuse card for the glove box, drawing. */
const { builds, harness, baseMm } = useHarness()
const settings = useSettings()
const sheets = [
  { value: 'cut', label: 'Cut list' },
  { value: 'pins', label: 'Pin-outs' },
  { value: 'labels', label: 'Labels' },
  { value: 'fuses', label: 'Fuse card' },
  { value: 'drawing', label: 'Drawing' },
] as const
const sheet = ref<(typeof sheets)[number]['value']>('cut')
const connectors = computed(() => connectorsOf(harness.value))
const fuses = computed(() => fuseCard(harness.value))
const labels = computed(() => labelsOf(harness.value))
const bill = computed(() => billOf(harness.value))
const scale = computed(() => drawingScale(PLAN_WIDTH * baseMm.value))
const drawnMm = computed(() => (PLAN_WIDTH * baseMm.value) / scale.value)
const today = new Date().toISOString().slice(0, 10)
const print = (): void => window.print()
const drawing = ref<HTMLElement>()
function saveSvg(): void {
  const svg = drawing.value?.querySelector('svg')
  if (!svg) return
  const copy = svg.cloneNode(true) as SVGElement
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  // colours stand in the page's sheet; a file carries its own
  const from = svg.querySelectorAll<SVGElement>('*')
  copy.querySelectorAll<SVGElement>('*').forEach((el, i) => {
    const { fill, stroke, strokeWidth, opacity } = getComputedStyle(from[i])
    Object.assign(el.style, { fill, stroke, strokeWidth, opacity })
  })
  saveFile('harness.svg', new Blob([copy.outerHTML], { type: 'image/svg+xml' }))
}
</script>

<template>
  <section class="pad">
    <div class="bar">
      <option-row v-model="sheet" :options="sheets" firm label="Sheet" />
      <div class="act">
        <n-button v-if="sheet === 'drawing'" size="large" data-testid="save-svg" @click="saveSvg">Save as SVG</n-button>
        <n-button size="large" type="primary" @click="print">Print</n-button>
      </div>
    </div>
    <printed-sheet
      :rehearsal="builds.view === 'rehearsal'"
      :car="builds.current!.title"
      version="wiring"
      :date="today"
      :name="settings.person"
    >
      <section v-if="sheet === 'cut'" data-testid="cut-list">
        <h2>Cut list</h2>
        <table class="border-collapse w-full">
          <thead>
            <tr>
              <th>Wire</th>
              <th>Cut</th>
              <th>Size</th>
              <th>Gauge</th>
              <th>Colour</th>
              <th>From</th>
              <th>To</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="w in harness.wires" :key="w.circuit.id">
              <th scope="row">{{ w.circuit.name }}</th>
              <td>{{ settings.format(w.lengthM, 'distance') }}</td>
              <td>{{ w.size ? settings.format(w.size.areaMm2, 'wireArea', 2) : 'none' }}</td>
              <td>{{ w.gaugeAwg }}</td>
              <td>{{ w.colour }}</td>
              <td>{{ harness.places.get(w.circuit.from)!.label }} {{ w.pins.from }}</td>
              <td>{{ harness.places.get(w.circuit.to)!.label }} {{ w.pins.to }}</td>
            </tr>
          </tbody>
        </table>
        <h2>To buy</h2>
        <p v-for="b in bill.wire" :key="b.areaMm2 + b.colour">
          {{ settings.format(b.areaMm2, 'wireArea', 2) }} {{ b.colour }}: {{ settings.format(b.lengthM, 'distance', 1) }}
        </p>
        <p>{{ bill.terminals }} terminals, {{ bill.eyelets }} eyelets, {{ bill.relays }} relays.</p>
        <p>Fuses: {{ bill.fuses.map((f) => `${f.count} of ${settings.format(f.fuseA, 'current', 1)}`).join(', ') }}.</p>
      </section>
      <template v-else-if="sheet === 'pins'">
        <section v-for="k in connectors" :key="k.place" data-testid="pin-out">
          <h2>{{ k.label }}</h2>
          <table class="border-collapse w-full">
            <tbody>
              <tr v-for="p in k.pins" :key="p.pin + p.circuit">
                <th scope="row">{{ p.pin }}</th>
                <td>{{ p.name }}</td>
                <td>{{ p.colour }}</td>
                <td>{{ p.to }}</td>
              </tr>
            </tbody>
          </table>
        </section>
      </template>
      <section v-else-if="sheet === 'labels'">
        <h2>Labels</h2>
        <p>Printed at true size each strip is 60 mm long and wraps round the wire; check the bar: it must measure 50 mm.</p>
        <div class="check" />
        <div class="labels grid grid-cols-[repeat(auto-fill,62mm)] gap-2mm">
          <div v-for="l in labels" :key="l.circuit + l.end" class="label" data-testid="label">
            <span>{{ l.text }}</span><span>{{ l.text }}</span>
          </div>
        </div>
      </section>
      <section v-else-if="sheet === 'fuses'" class="card max-w-120mm">
        <h2>Fuses, {{ builds.current!.title }}</h2>
        <table class="border-collapse w-full">
          <tbody>
            <tr v-for="f in fuses" :key="f.circuit" data-testid="fuse-line">
              <th scope="row">{{ settings.format(f.fuseA, 'current', 1) }}</th>
              <td>{{ f.name }}</td>
              <td>{{ f.channel ? 'channel of the power box, trips there' : f.relay ? 'with relay' : '' }}</td>
            </tr>
          </tbody>
        </table>
        <p>A fuse that goes again has a cause: find it, never a larger one.</p>
      </section>
      <section v-else ref="drawing">
        <h2>Harness on the car</h2>
        <div class="scaled" :style="{ '--drawn': `${drawnMm}mm` }">
          <bay-plan :harness="harness" :base-mm="baseMm" :picked="null" whole still />
        </div>
        <div class="check scale-bar" :style="{ width: `${500 / scale}mm` }" />
        <p data-testid="drawing-scale">
          1 : {{ scale }} by a wheelbase of {{ settings.format(baseMm, 'length', 0) }}; printed, the bar is
          {{ settings.format(500, 'length', 0) }} of the car and measures {{ settings.format(500 / scale, 'length', 1) }}.
        </p>
      </section>
    </printed-sheet>
  </section>
</template>

<style scoped>
td:nth-child(2),
td:nth-child(3) {
  white-space: nowrap;
}
th,
td {
  text-align: left;
  font-weight: 400;
  border-bottom: 1px solid #bbb;
  padding: 2px var(--s1);
}
th[scope='row'] {
  font-weight: 600;
}
p {
  margin: 2px 0;
}
.check {
  width: 50mm;
  height: 3mm;
  background: #14202c;
  margin: 3mm 0;
}
.label {
  width: 60mm;
  min-height: 12mm;
  border: 1px dashed #777;
  font-size: 9pt;
  line-height: 1.1;
  padding: 1mm;
  display: flex;
  flex-direction: column;
  justify-content: space-between;
  break-inside: avoid;
}
.scaled {
  width: min(100%, var(--drawn));
}
@media print {
  .scaled {
    width: var(--drawn);
  }
}
</style>
