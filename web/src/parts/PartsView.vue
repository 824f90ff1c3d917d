<script setup lang="ts">
import { NButton, NCheckbox, NInput, NProgress, NSelect } from 'naive-ui'
import { ref } from 'vue'
import type { Finding, Gate, StationState } from '@vectum/core'
import EntryForm from '../kit/EntryForm.vue'
import PrintedSheet from '../kit/PrintedSheet.vue'
import RoomTabs from '../kit/RoomTabs.vue'
import StationHead from '../kit/StationHead.vue'
import OptionRow from '../quantity/OptionRow.vue'
import QuantityField from '../quantity/QuantityField.vue'
import CarStrip from '../shell/CarStrip.vue'
import CautionStrip from '../shell/CautionStrip.vue'
import FindingCard from '../shell/FindingCard.vue'
import GateList from '../shell/GateList.vue'
import StateMark from '../shell/StateMark.vue'
import WorkingNumber from '../shell/WorkingNumber.vue'

/** The house's own parts, each in every state it has: for whoever builds a screen, and for the checks that look at all of them at once. */
const states: StationState[] = ['open', 'ready', 'cleared', 'blocked']
const room = ref('one')
const rooms = [
  { id: 'one', title: 'First room' },
  { id: 'two', title: 'Second' },
  { id: 'three', title: 'Third' },
]
const pressureKpa = ref<number | undefined>(300)
const empty = ref<number | undefined>()
const refused = ref<number | undefined>(300)
const chosen = ref<string | undefined>('yes')
const open = ref<string | undefined>()
const yesNo = [
  { value: 'yes', label: 'yes' },
  { value: 'no', label: 'no' },
]
const atMost = (value: number | undefined) => (value !== undefined && value > 600 ? 'must be at most 600 kPa' : null)
/** 14.2 kPa of 20 kPa, in the units of whoever reads it */
const margin = {
  text: ['', ' left of ', '.'],
  quantities: [
    { value: 14.2, dimension: 'pressure' as const, decimals: 1 },
    { value: 20, dimension: 'pressure' as const, decimals: 0 },
  ],
}
const plain = (words: string) => ({ text: [words], quantities: [] })
const shown = (severity: Finding['severity'], message: string, because: string, remedy: string): Finding => ({
  ...{ id: `parts.${severity}`, severity, message, because, remedy },
  said: { message: plain(message), because: severity === 'warn' ? margin : plain(because), remedy: plain(remedy) },
})
const findings = [
  shown('stop', 'A fuel joint is wet', 'Seen wet: pump to filter.', 'Battery off, relieve pressure, mend, look again.'),
  shown('warn', 'Little margin at the pump inlet', '', 'A larger suction bore.'),
  shown('note', 'One pump curve', 'Other voltages are worked out from it.', 'A second curve takes the assumption away.'),
]
const gates: Gate[] = [
  { id: 'met', label: 'Extinguisher at hand, helper with a stop word', met: true, why: 'stop word “anchor”', station: 'start' },
  { id: 'open', label: 'Fuel pressure read, and what is planned', met: false, why: margin, station: 'start' },
]
const number = {
  id: 'parts.number',
  station: 'fuel',
  label: 'Pressure at the injectors',
  value: 300,
  dimension: 'pressure' as const,
  formula: 'set pressure less what the feed drops',
  source: 'the circuit, solved',
  inputs: [{ name: 'Set pressure', value: '300 kPa' }],
  assumed: ['fuel at 25 °C'],
}
const unknown = { ...number, id: 'parts.unknown', label: 'A number nobody can know yet', value: null }
</script>

<template>
  <main class="parts bg-sheet max-w-980px my-0 mx-auto p-4" aria-label="Parts">
    <car-strip view="car">Strip of a car, looked at as it is</car-strip>
    <car-strip view="rehearsal">The same in rehearsal</car-strip>
    <station-head title="Parts" line="Every part of the house in every state." />

    <section>
      <h2>Type and words</h2>
      <h1>Head of a screen</h1>
      <h2>Head of a part</h2>
      <h3>Head within it</h3>
      <p class="measure">
        Text as it is read. <strong>Weighty.</strong> <span class="soft">Beside the point.</span> <span class="clear">Good.</span>
        <span class="warn">Look.</span> <span class="stop">Stop.</span> <a href="#parts">A link</a> <span class="num">1,234 rpm</span>
      </p>
      <p class="caps">Over a list</p>
    </section>

    <section>
      <h2>Marks</h2>
      <p class="act">
        <template v-for="s in states" :key="s"><state-mark :state="s" :size="24" /> {{ s }}</template>
      </p>
      <p class="act">
        <template v-for="s in states" :key="s"><state-mark :state="s" :size="24" dashed /> {{ s }}, rehearsed</template>
      </p>
    </section>

    <section>
      <h2>To press</h2>
      <p class="act">
        <n-button type="primary" size="large">First thing</n-button><n-button size="large">Another</n-button
        ><n-button dashed size="large">Of the bench</n-button><n-button type="primary" disabled>Shut</n-button
        ><n-button loading>At work</n-button><n-button size="small">Small</n-button><n-button quaternary>Quiet</n-button>
        <label class="csv"><input type="file" />Opens a file</label>
      </p>
      <room-tabs v-model="room" label="Rooms" :tabs="rooms" id-prefix="parts" />
      <div :id="`parts-${room}`" role="tabpanel">{{ room }}</div>
    </section>

    <section>
      <h2>To fill in</h2>
      <div class="fields">
        <quantity-field v-model="pressureKpa" label="Known" dimension="pressure" why="why it is asked" />
        <quantity-field v-model="empty" label="Not known" dimension="temperature" />
        <quantity-field v-model="refused" label="Bounded" dimension="pressure" :check="atMost" />
        <div><span id="p-yes" class="label">Chosen</span><option-row v-model="chosen" :options="yesNo" labelled-by="p-yes" /></div>
        <div><span id="p-open" class="label">Not answered</span><option-row v-model="open" :options="yesNo" labelled-by="p-open" /></div>
        <label
          >A list<select>
            <option>first</option>
            <option>second</option>
          </select></label
        >
        <n-select :options="yesNo" aria-label="A longer list" placeholder="choose" />
        <n-input placeholder="words" :input-props="{ 'aria-label': 'Words' }" />
        <n-checkbox label="Seen with one’s own eyes" />
      </div>
      <entry-form kind="fuel.prime" :start="{ cycles: 2 }" />
      <entry-form kind="start.prepared" disabled />
      <n-progress aria-label="How far it is" type="line" :percentage="40" :show-indicator="false" />
    </section>

    <section>
      <h2>To heed</h2>
      <caution-strip station="fuel" />
      <finding-card v-for="f in findings" :key="f.id" :finding="f" />
      <gate-list :gates="gates" build-id="parts" />
    </section>

    <section>
      <h2>Numbers and tables</h2>
      <working-number :number="number" />
      <working-number :number="unknown" />
      <table>
        <thead>
          <tr>
            <th scope="col">Speed</th>
            <th scope="col">Seen</th>
            <th scope="col">By</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td class="num">900 rpm</td>
            <td class="num">14.8°</td>
            <td>Ada</td>
          </tr>
          <tr>
            <td class="num">3000 rpm</td>
            <td class="num">15.1°</td>
            <td class="soft">Bea</td>
          </tr>
        </tbody>
      </table>
    </section>

    <section>
      <h2>On paper</h2>
      <printed-sheet car="A car" version="tune 1" date="2026-11-27" name="Ada" rehearsal><p>What is printed.</p></printed-sheet>
    </section>
  </main>
</template>

<style scoped>
section {
  border-top: 1px solid var(--hair);
  padding: var(--s3) 0;
}
.parts > header {
  height: 56px;
}
</style>
