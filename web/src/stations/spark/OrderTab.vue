<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, reactive, ref } from 'vue'
import { checkReading, coilMap, firingAngles, hasDistributor, leadSwap, ohmPerMetre, proofsOf, readingsOf, sweepOf } from '@vectum/core'
import CellInput from '../../quantity/CellInput.vue'
import OptionRow from '../../quantity/OptionRow.vue'
import { useBuild } from '../../stores/build.ts'
import StepRecord from './StepRecord.vue'

/** Towers, coils and the order they fire in; what a crossed pair does; tags for the leads. */
const builds = useBuild()
const c = computed(() => builds.context!)
const spark = computed(() => builds.current?.choices.spark ?? {})
const distributor = computed(() => hasDistributor(c.value))
const firingOrder = computed(() => c.value.facts.engine?.firingOrder ?? null)
const channels = computed(() => (firingOrder.value ? coilMap(firingOrder.value, spark.value.coilChannels ?? 'by-cylinder') : []))
const angles = computed(() => (firingOrder.value ? firingAngles(firingOrder.value) : []))
const cylinders = computed(() => [...(firingOrder.value ?? [])].sort((a, b) => a - b).map((n) => ({ value: n, label: String(n) })))
const crossed = reactive<[number, number]>([firingOrder.value?.[0] ?? 1, firingOrder.value?.[1] ?? 2])
const swap = computed(() => leadSwap(firingOrder.value ?? [], crossed[0], crossed[1], sweepOf(c.value).minAdvanceDeg))
const print = () => window.print()
const seen = computed(() => proofsOf(c.value).find((p) => p.id === 'order') ?? null)
const typed = reactive<Record<number, { lengthMm?: number; ohm?: number }>>({})
const leadProblem = ref<string | null>(null)
const leadOf = (cylinder: number) =>
  readingsOf(c.value.readings, 'spark.lead')
    .filter((r) => r.value.cylinder === cylinder)
    .at(-1)?.value ?? null
/** A lead goes into the record when both its length and its ohms are there. */
function measured(cylinder: number, field: 'lengthMm' | 'ohm', text: string): void {
  const value = Number(text.replace(',', '.'))
  const words = { lengthMm: 'length, mm,', ohm: 'resistance, ohm,' }[field]
  const refused = text.trim() === '' || !Number.isFinite(value) ? 'must be a number' : checkReading('spark.lead', field, value)
  leadProblem.value = refused ? `Lead ${cylinder}: ${words} ${refused}` : null
  if (refused) return
  const lead = { lengthMm: leadOf(cylinder)?.lengthMm, ohm: undefined as number | undefined, ...typed[cylinder], [field]: value }
  typed[cylinder] = lead
  if (lead.lengthMm === undefined || lead.ohm === undefined) return
  builds.record('spark.lead', { cylinder, lengthMm: lead.lengthMm, ohm: lead.ohm }, { instrument: 'multimeter' })
  delete typed[cylinder]
}
const perMetre = (cylinder: number): string => {
  const lead = leadOf(cylinder)
  return lead ? `${(ohmPerMetre(lead) / 1000).toFixed(1)} kΩ` : '–'
}
async function benchLeads(): Promise<void> {
  for (const { cylinder } of angles.value) if (!(await builds.readBench('spark.lead', { cylinder }))) return
}
</script>

<template>
  <section class="pad">
    <p v-if="!firingOrder" class="warn">The firing order is not known yet; enter it in Survey.</p>
    <template v-else>
      <option-row
        class="spaced"
        :model-value="spark.coilChannels ?? 'by-cylinder'"
        firm
        label="Coil channels are numbered"
        :options="[
          { value: 'by-cylinder', label: 'channels follow cylinder number' },
          { value: 'by-firing-order', label: 'channels follow firing order' },
        ]"
        @update:model-value="(v) => builds.change('choices.spark.coilChannels', v)"
      />
      <table class="map">
        <thead>
          <tr>
            <th>{{ distributor ? 'Tower, in rotation' : 'Coil channel' }}</th>
            <th>Cylinder</th>
            <th>Fires after number {{ firingOrder[0] }}</th>
            <th>Paired with</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="(row, i) in distributor
              ? angles.map((a, k) => ({
                  channel: k + 1,
                  cylinder: a.cylinder,
                  partner: channels.find((ch) => ch.cylinder === a.cylinder)?.partner ?? null,
                }))
              : channels"
            :key="i"
          >
            <td class="num">{{ row.channel }}</td>
            <td class="num">{{ row.cylinder }}</td>
            <td class="num">{{ angles.find((a) => a.cylinder === row.cylinder)?.deg.toFixed(0) }}°</td>
            <td class="num">{{ row.partner ?? '–' }}</td>
          </tr>
        </tbody>
      </table>
      <h2>{{ distributor ? 'Seen at the leads' : 'Seen at the coils' }}</h2>
      <p v-if="seen" :class="{ proved: 'clear', wrong: 'stop', open: 'soft' }[seen.state]">
        {{ seen.state === 'proved' ? 'Proved' : seen.state === 'wrong' ? 'Wrong' : 'Not proved yet' }}: {{ seen.because }}
      </p>
      <step-record kind="spark.order" step="order" />
      <h2>What if two leads are crossed?</h2>
      <div class="swap">
        <option-row v-model="crossed[0]" firm label="First lead" :options="cylinders" />
        <span>with</span>
        <option-row v-model="crossed[1]" firm label="Second lead" :options="cylinders" />
      </div>
      <ul v-if="swap.length" data-testid="swap">
        <li v-for="s in swap" :key="s.cylinder">
          {{ s.says }} <span class="soft">({{ Math.abs(s.earlyDeg).toFixed(0) }}° {{ s.earlyDeg > 0 ? 'early' : 'late' }})</span>
        </li>
      </ul>
      <p v-else class="soft">The same lead on its own tower.</p>
      <div class="tags-head">
        <h2>Leads, cut and measured</h2>
        <n-button size="small" dashed data-testid="bench-leads" @click="benchLeads">Bench: meter on each</n-button>
      </div>
      <table class="leads">
        <thead>
          <tr>
            <th>Lead</th>
            <th>Length, mm</th>
            <th>End to end, ohm</th>
            <th>A metre</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="a in angles" :key="a.cylinder">
            <td class="num text-t4">{{ a.cylinder }}</td>
            <td>
              <cell-input
                :value="typed[a.cylinder]?.lengthMm ?? leadOf(a.cylinder)?.lengthMm ?? ''"
                :label="`Lead ${a.cylinder}, length, mm`"
                numeric
                @commit="(t) => measured(a.cylinder, 'lengthMm', t)"
              />
            </td>
            <td>
              <cell-input
                :value="typed[a.cylinder]?.ohm ?? leadOf(a.cylinder)?.ohm ?? ''"
                :label="`Lead ${a.cylinder}, ohm`"
                numeric
                @commit="(t) => measured(a.cylinder, 'ohm', t)"
              />
            </td>
            <td class="num text-t4">{{ perMetre(a.cylinder) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="leadProblem" class="stop" role="alert">{{ leadProblem }}</p>
      <div class="tags-head">
        <h2>Tags to cut out</h2>
        <n-button size="small" @click="print">Print</n-button>
      </div>
      <ol class="tags" aria-label="Tags for leads and coils">
        <li v-for="(a, k) in angles" :key="a.cylinder">
          <strong class="num block text-t5 leading-none">{{ a.cylinder }}</strong>
          <small class="block">{{
            distributor ? `tower ${k + 1} in rotation` : `coil ${channels.find((ch) => ch.cylinder === a.cylinder)?.channel}`
          }}</small>
          <small v-if="leadOf(a.cylinder)" class="block">{{ leadOf(a.cylinder)!.lengthMm.toFixed(0) }} mm</small>
        </li>
      </ol>
    </template>
  </section>
</template>

<style scoped>
.map {
  border-collapse: collapse;
  min-width: 460px;
}
.map th {
  text-align: left;
  font-weight: 400;
  color: var(--soft);
  padding-right: var(--s5);
}
.map td {
  font-size: var(--t4);
  border-bottom: 1px solid var(--hair);
  padding: var(--s1) var(--s5) var(--s1) 0;
}
.spaced {
  margin-bottom: var(--s4);
}
.leads {
  border-collapse: collapse;
  margin-top: var(--s2);
}
.leads th {
  text-align: left;
  font-weight: 400;
  color: var(--soft);
  padding-right: var(--s4);
}
.leads td {
  padding: 2px var(--s4) 2px 0;
}
.leads :deep(input) {
  width: 120px;
}
.swap,
.tags-head {
  display: flex;
  flex-wrap: wrap;
  gap: var(--s3);
  align-items: center;
}
.tags {
  display: flex;
  flex-wrap: wrap;
  list-style: none;
  padding: 0;
  margin: var(--s2) 0;
}
.tags li {
  border: 1px dashed var(--soft);
  padding: var(--s2) var(--s4);
  margin: 0 -1px -1px 0;
  text-align: center;
  min-width: 110px;
}
</style>
