<script setup lang="ts">
import { NButton, NCheckbox, NSelect } from 'naive-ui'
import { computed, ref } from 'vue'
import {
  channelIds,
  channelSpecs,
  checkMapping,
  CoreError,
  sourceUnits,
  type ChannelId,
  type LogMapping,
  type LogPreview,
} from '@vectum/core'
import QuantityField from '../../quantity/QuantityField.vue'

/** One screen to confirm what was found in a file: each column with its first values, the channel it holds, the unit it is in. */
const props = defineProps<{
  preview: LogPreview
  fileName: string
  busy: boolean
  progress: number | null
  /** versions it may have been driven on; the one in the car is proposed */
  tunes: readonly { value: string; label: string }[]
  drivenOn: string | null
}>()
const emit = defineEmits<{ confirm: [mapping: LogMapping, tuneId: string | null]; cancel: [] }>()
const tuneId = ref(props.drivenOn)
type Row = { channel: ChannelId | null; unit: string; asked: string | null }
const askedOf = (channel: ChannelId): string | null =>
  props.preview.unsure
    .filter((u) => u.channel === channel)
    .map((u) => u.because.replace(/^“[^”]*”: /, ''))
    .join('; ') || null
const rows = ref<Row[]>(
  props.preview.dialect.names.map((_, column) => {
    const hit = (Object.entries(props.preview.mapping.channels) as [ChannelId, { column: number; unit: string }][]).find(
      ([, source]) => source.column === column,
    )
    return hit ? { channel: hit[0], unit: hit[1].unit, asked: askedOf(hit[0]) } : { channel: null, unit: '', asked: null }
  }),
)
const stoichAfr = ref<number | undefined>(props.preview.mapping.stoichAfr)
const barometerKpa = ref<number | undefined>(props.preview.mapping.barometerKpa)
const channelOptions = channelIds.map((id) => ({ value: id, label: channelSpecs[id].label }))
const unitOptions = (row: Row) => (row.channel ? sourceUnits[row.channel].map((u) => ({ value: u.id, label: u.id })) : [])
function setChannel(row: Row, channel: ChannelId | null): void {
  // a channel lives in one column only
  if (channel) for (const other of rows.value) if (other !== row && other.channel === channel) other.channel = null
  row.channel = channel
  row.unit = channel ? sourceUnits[channel][0].id : ''
  row.asked = null
}
function setUnit(row: Row, unit: string): void {
  row.unit = unit
  row.asked = null
}
/** what is asked stands first, and stays there while it is answered */
const ordered = rows.value.map((row, i) => ({ row, i, first: row.asked !== null })).sort((a, b) => Number(b.first) - Number(a.first))
/** what nobody has answered yet, said of the columns it is about */
const open = computed(() => rows.value.filter((r) => r.asked !== null))
const loopOpen = ref(false)
const corrected = computed(() => rows.value.some((r) => r.channel === 'correctionPct'))
const targeted = computed(() => rows.value.some((r) => r.channel === 'lambda'))
const mapping = computed<LogMapping>(() => ({
  channels: Object.fromEntries(rows.value.flatMap((row, column) => (row.channel ? [[row.channel, { column, unit: row.unit }]] : []))),
  stoichAfr: stoichAfr.value ?? 14.7,
  barometerKpa: barometerKpa.value ?? 101.325,
  ...(loopOpen.value && !corrected.value ? { loopOpen: true } : {}),
}))
const problem = computed(() => {
  try {
    checkMapping(mapping.value, rows.value.length)
  } catch (error) {
    if (error instanceof CoreError) return error.message
    throw error
  }
  const need = (['rpm', 'mapKpa', 'lambda'] as const).filter((id) => !mapping.value.channels[id])
  if (need.length) return `Point at ${need.map((id) => channelSpecs[id].label).join(', ')}: the solve needs it.`
  return open.value.length
    ? `${open.value.length === 1 ? 'One column is' : `${open.value.length} columns are`} asked about: say what ${open.value.length === 1 ? 'it is' : 'they are'} in.`
    : null
})
const inAfr = computed(() => rows.value.some((r) => r.unit === 'AFR'))
const gauge = computed(() => rows.value.some((r) => r.unit.endsWith('gauge') || r.unit.endsWith('vacuum')))
const dialect = computed(() => {
  const d = props.preview.dialect
  const delimiter = { ',': 'comma', ';': 'semicolon', '\t': 'tab', '|': 'bar', ' ': 'blank' }[d.delimiter] ?? d.delimiter
  return `${delimiter} separated, decimal ${d.decimalMark === ',' ? 'comma' : 'point'}, ${d.encoding}${d.unitsRow !== null ? ', a row of units' : ''}${d.headerRow > 0 ? `, ${d.headerRow} lines above the names` : ''}`
})
</script>

<template>
  <section aria-label="Confirm the columns">
    <h2>{{ fileName }}</h2>
    <p class="soft">
      {{ dialect }}.
      {{ open.length ? 'Some columns are not sure: answer what is asked.' : 'Look the columns over; this shape of file is remembered.' }}
    </p>
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <th>Column in the file</th>
            <th>First values</th>
            <th>Holds</th>
            <th>In</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="{ row, i } in ordered" :key="i"
            ><tr :class="{ first: row.asked }">
              <td>
                <strong>{{ preview.dialect.names[i] || `column ${i + 1}` }}</strong>
                <span class="soft">{{ preview.dialect.units[i] }}</span>
              </td>
              <td class="num">
                {{
                  preview.rows
                    .slice(0, 3)
                    .map((r) => r[i])
                    .join('   ')
                }}
              </td>
              <td class="w-240px">
                <n-select
                  :value="row.channel"
                  :options="channelOptions"
                  clearable
                  filterable
                  size="small"
                  placeholder="not used"
                  :aria-label="`Channel of ${preview.dialect.names[i]}`"
                  @update:value="setChannel(row, $event)"
                />
              </td>
              <td class="unit w-130px">
                <n-select
                  v-if="row.channel"
                  :value="row.unit"
                  :options="unitOptions(row)"
                  size="small"
                  :aria-label="`Unit of ${preview.dialect.names[i]}`"
                  @update:value="setUnit(row, $event)"
                />
              </td>
            </tr>
            <tr v-if="row.asked" class="asked">
              <td colspan="4">
                <div class="ask flex gap-3 items-center justify-between pb-2">
                  <span class="warn">{{ row.asked }}.</span>
                  <n-button size="small" type="primary" :data-testid="`right-${row.channel}`" @click="row.asked = null"
                    >It is {{ row.unit }}</n-button
                  >
                </div>
              </td>
            </tr></template
          >
        </tbody>
      </table>
    </div>
    <div class="foot">
      <label v-if="tunes.length" class="driven min-w-240px font-600"
        ><span>Driven on</span
        ><n-select v-model:value="tuneId" :options="[...tunes]" clearable placeholder="not known" aria-label="Driven on"
      /></label>
      <quantity-field
        v-if="inAfr"
        v-model="stoichAfr"
        label="The display's own stoichiometric ratio"
        dimension="number"
        :check="(v) => (v! < 5 || v! > 20 ? 'must be 5 to 20' : null)"
      />
      <quantity-field
        v-if="gauge"
        v-model="barometerKpa"
        label="Barometer of that day"
        dimension="pressure"
        :check="(v) => (v! < 50 || v! > 115 ? 'must be 50 to 115 kPa' : null)"
      />
      <n-checkbox v-if="targeted && !corrected" v-model:checked="loopOpen" data-testid="loop-open"
        >The closed loop was off: nothing was corrected</n-checkbox
      >
      <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
      <n-button
        type="primary"
        size="large"
        :disabled="problem !== null || busy"
        data-testid="confirm-mapping"
        @click="emit('confirm', mapping, tuneId)"
        >{{ busy && progress !== null ? `Sending ${(progress * 100).toFixed(0)} %` : 'These are right, bring it in' }}</n-button
      >
      <n-button size="large" @click="emit('cancel')">Cancel</n-button>
    </div>
  </section>
</template>

<style scoped>
td.num {
  white-space: pre;
  font-size: var(--t2);
}
tr.first td {
  border-bottom: 0;
}
.foot {
  position: sticky;
  bottom: -18px;
  background: var(--sheet);
  display: flex;
  gap: var(--s3);
  align-items: end;
  flex-wrap: wrap;
  padding: var(--s3) 0;
}
</style>
