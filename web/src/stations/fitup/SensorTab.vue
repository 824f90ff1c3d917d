<script setup lang="ts">
import { computed } from 'vue'
import { drains, sensorGasC, sensorLengthMm, sensorStretch } from '@vectum/core'
import FactField from '../../quantity/FactField.vue'
import { fields } from './sensor-fields.ts'
import PipeDrawing from './PipeDrawing.vue'
import { useFitup } from './use-fitup.ts'

/** Where the exhaust sensor sits: along the pipe, how far it is turned up, how hot the gas is there, and which cylinders it sees. */
const { settings, c, fitup, held, change } = useFitup()
const sensor = computed(() => fitup.value.sensor ?? {})
const mergeMm = computed(() => sensor.value.mergeMm ?? c.value.facts.exhaust?.mergeMm ?? null)
const lengthMm = computed(() => sensorLengthMm(c.value))
const stretch = computed(() => sensorStretch(mergeMm.value, lengthMm.value))
const gas = computed(() => sensorGasC(c.value))
const drainsWords = { yes: 'water drains away from it', hardly: 'water hardly drains: turn it up', no: 'water runs into it' }
function move(fromPortMm: number): void {
  // what is behind it shortens as it goes back: the pipe stays as long
  const toEndMm = lengthMm.value === null ? undefined : Math.max(50, lengthMm.value - fromPortMm)
  held.value = { sensor: { fromPortMm, ...(toEndMm === undefined ? {} : { toEndMm }) } }
}
const turn = (upDeg: number): void => void (held.value = { sensor: { upDeg } })
function keep(): void {
  const now = (held.value as { sensor?: Record<string, number> } | null)?.sensor ?? {}
  for (const [field, value] of Object.entries(now)) change(`sensor.${field}`, value)
  held.value = null
}
</script>

<template>
  <section class="pad">
    <pipe-drawing
      :from-port-mm="sensor.fromPortMm ?? null"
      :length-mm="lengthMm"
      :merge-mm="mergeMm"
      :up-deg="sensor.upDeg ?? null"
      :stretch="stretch"
      @move="move"
      @turn="turn"
      @done="keep"
    />
    <p class="head-t4" data-testid="sensor-stretch">
      {{
        stretch
          ? `It may sit from ${settings.format(stretch.fromMm, 'length', 0)} to ${settings.format(stretch.toMm, 'length', 0)} from the port`
          : 'No place on this pipe meets all: merge first, then the distance from the open end'
      }}
    </p>
    <p>
      <template v-if="sensor.upDeg !== undefined">At {{ sensor.upDeg }}° {{ drainsWords[drains(sensor.upDeg)] }}. </template>
      <template v-if="gas"
        >Gas there about {{ settings.format(gas.idle, 'temperature') }} at idle, {{ settings.format(gas.full, 'temperature') }} at full load
        (energy balance of the pipe; own figures of the heat it gives off).</template
      >
    </p>
    <p class="measure">Nothing with silicone near it, no leaded fuel, no joint before it that leaks; plugged until it has power.</p>
    <div class="fields"><fact-field v-for="f in fields" :key="f.path" :field="f" /></div>
  </section>
</template>
