<script setup lang="ts">
import { computed, ref } from 'vue'
import { benchMeterV, keyedCandidates, type KeyedCandidate, type KeyState, keyStates, type MeterPoint, meterPoints } from '@vectum/core'
import OptionRow from '../../quantity/OptionRow.vue'
import { useSettings } from '../../stores/settings.ts'
import { useHarness } from './use-harness.ts'

/** A meter at any two points of the bench car, with a lamp on a candidate wire: to hunt a fault by its drops. */
const { builds } = useHarness()
const settings = useSettings()
const red = ref<MeterPoint>('plus')
const black = ref<MeterPoint>('minus')
const state = ref<KeyState>('on')
const candidate = ref<KeyedCandidate>('switch')
const lamp = ref(false)
const points = Object.entries(meterPoints) as [MeterPoint, string][]
const states = keyStates.map((value) => ({ value, label: value === 'off' ? 'key off' : value }))
const wires = Object.entries(keyedCandidates) as [KeyedCandidate, string][]
const shown = computed(() =>
  benchMeterV(builds.current!, red.value, black.value, { state: state.value, candidate: candidate.value, lamp: lamp.value }),
)
</script>

<template>
  <section class="boxed" aria-label="Meter on the bench car">
    <h2>Meter on the bench car</h2>
    <option-row v-model="state" :options="states" firm label="State" />
    <div class="act">
      <label
        >Red
        <select v-model="red" data-testid="meter-red">
          <option v-for="[id, words] in points" :key="id" :value="id">{{ words }}</option>
        </select></label
      >
      <label
        >Black
        <select v-model="black">
          <option v-for="[id, words] in points" :key="id" :value="id">{{ words }}</option>
        </select></label
      >
      <label
        >Candidate
        <select v-model="candidate">
          <option v-for="[id, words] in wires" :key="id" :value="id">{{ words }}</option>
        </select></label
      >
      <label class="tick"><input v-model="lamp" type="checkbox" /> 21 W lamp on it</label>
    </div>
    <strong class="reading" data-testid="meter">{{ settings.format(shown, 'voltage', 3) }}</strong>
  </section>
</template>

<style scoped>
.reading {
  font: 600 var(--t6) / 1 var(--head);
}
</style>
