<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { carInstrumentIds, carInstruments, type CarInstrumentId } from '@vectum/core'
import OptionRow from '../../quantity/OptionRow.vue'
import BenchPanel from '../../shell/BenchPanel.vue'
import { useBuild } from '../../stores/build.ts'
import { useStartDesk } from './use-start-desk.ts'

/** Hands at the bench car: instruments with their accuracy and minutes, the throttle screw, a hand on the valve, a brake, the lever. */
const builds = useBuild()
const { on, say, blocked, block } = useStartDesk()
const read = ref<{ id: CarInstrumentId; says: string }[]>([])
const minutes = ref(0)
const inGear = ref(false)
const bottle = ref(false)
const brakeNm = ref(0)
const turns = ref(0)
async function connect(id: CarInstrumentId): Promise<void> {
  const reply = await say('instrument', { instrument: id })
  if (!reply.ok) return
  read.value = [{ id, says: (reply.data as { says: string }).says }, ...read.value.filter((r) => r.id !== id)].slice(0, 4)
  minutes.value += carInstruments[id].minutes
}
async function turn(by: number): Promise<void> {
  const reply = await say('screw', { turns: by })
  if (!reply.ok) return
  turns.value = (reply.data as { turns: number }).turns
  // an act of the rehearsal: what was judged of the idle before it falls there
  builds.record('idle.screw', { turns: by })
}
async function lever(to: boolean | undefined): Promise<void> {
  if ((await say('gear', { inGear: to === true })).ok) inGear.value = to === true
}
async function open(to: boolean | undefined): Promise<void> {
  if ((await say('nitrous', { armed: to === true })).ok) bottle.value = to === true
}
</script>

<template>
  <bench-panel
    title="Hands on the bench car"
    :note="`instruments, screw, valve, brake, lever${minutes ? `; ${minutes} min spent measuring` : ''}`"
  >
    <div class="hands grid grid-cols-[repeat(auto-fill,minmax(230px,1fr))] gap-2 my-2 mx-0">
      <button v-for="id in carInstrumentIds" :key="id" type="button" :data-testid="`instrument-${id}`" @click="connect(id)">
        <strong>{{ carInstruments[id].title }}</strong>
        <small class="soft">{{ carInstruments[id].accuracy }}, {{ carInstruments[id].minutes }} min</small>
      </button>
    </div>
    <ul v-if="read.length" data-testid="instrument-says">
      <li v-for="r in read" :key="r.id"><strong>{{ carInstruments[r.id].title }}:</strong> {{ r.says }}</li>
    </ul>
    <div class="act">
      <span class="num">screw {{ turns > 0 ? '+' : '' }}{{ turns }} turns</span>
      <n-button @click="turn(-0.25)">¼ shut</n-button>
      <n-button @click="turn(0.25)">¼ open</n-button>
      <n-button :disabled="!on" @click="say('learn-zero')">Learn zero</n-button>
      <option-row
        :model-value="blocked"
        firm
        label="Idle valve port"
        :options="[
          { value: false, label: 'valve free' },
          { value: true, label: 'valve blocked' },
        ]"
        @update:model-value="(to) => block(to === true)"
      />
      <option-row
        v-if="builds.context?.resolved.automatic"
        :model-value="inGear"
        firm
        label="Lever"
        :options="[
          { value: false, label: 'neutral' },
          { value: true, label: 'in gear' },
        ]"
        @update:model-value="lever"
      />
      <option-row
        v-if="builds.context?.facts.induction?.nitrous"
        :model-value="bottle"
        firm
        label="Nitrous"
        :options="[
          { value: false, label: 'bottle shut' },
          { value: true, label: 'bottle open' },
        ]"
        @update:model-value="open"
      />
      <label class="flex gap-2 items-center min-h-44px"
        >brake
        <input v-model.number="brakeNm" type="range" min="0" max="200" step="5" aria-label="Brake, Nm" @change="say('load', { brakeNm })" />
        {{ brakeNm }} Nm</label
      >
    </div>
  </bench-panel>
</template>

<style scoped>
.hands button {
  display: grid;
  text-align: left;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--soft);
  min-height: 52px;
  padding: var(--s1) var(--s3);
  cursor: pointer;
  font: inherit;
}
</style>
