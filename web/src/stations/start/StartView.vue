<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { carFaultIds, floodedSince, readingsOf, startGates, stopsBefore } from '@vectum/core'
import StopBar from '../../kit/StopBar.vue'
import BenchFaults from '../../shell/BenchFaults.vue'
import CautionStrip from '../../shell/CautionStrip.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import { useLive } from '../../stores/live.ts'
import BenchHands from './BenchHands.vue'
import ClockPick from './ClockPick.vue'
import CrankStep from './CrankStep.vue'
import CylinderCheck from './CylinderCheck.vue'
import DevicePick from './DevicePick.vue'
import DryCrank from './DryCrank.vue'
import FirstFire from './FirstFire.vue'
import FloodCard from './FloodCard.vue'
import KeyOnStep from './KeyOnStep.vue'
import LeakStep from './LeakStep.vue'
import LightStep from './LightStep.vue'
import LiveNumbers from './LiveNumbers.vue'
import LiveTraces from './LiveTraces.vue'
import PrimeStep from './PrimeStep.vue'
import SafetyStep from './SafetyStep.vue'
import StepLine from './StepLine.vue'
import TakingStep from './TakingStep.vue'
import { provideStartDesk } from './use-start-desk.ts'

const settings = useSettings()
const builds = useBuild()
const live = useLive()
const build = computed(() => builds.current!)
const c = computed(() => builds.context!)
const { on, running, hands, byHand, refusal, stopAll } = provideStartDesk()

onMounted(() => live.open(build.value.id))
// a logger on the line is the car; the simulated one is practice, and a person says so
watch(
  () => live.device,
  (device) => {
    if (device === 'line') builds.view = 'car'
  },
)
// the session goes on at the server; only this screen lets go
onBeforeUnmount(() => live.close())

const readings = computed(() => c.value.readings)
const gates = computed(() => startGates(c.value, stopsBefore(build.value.stations, 'start')))
const met = (id: string) => gates.value.crank.find((g) => g.id === id)?.met ?? false
const steps = computed(() => [
  { id: 'gates', title: 'Gates', done: gates.value['key-on'].every((g) => g.met) },
  { id: 'key', title: 'Key on, checks', done: met('sanity') && builds.met('start', 'idle-valve') },
  { id: 'taking', title: 'Tune into the unit', done: met('tune-taken') },
  { id: 'safety', title: 'Ready and safe', done: met('safety') && met('prepared') },
  { id: 'prime', title: 'Prime, pressure', done: met('pressure') },
  { id: 'leak', title: 'Leak check', done: met('leak') },
  { id: 'dry', title: 'Crank, no fuel', done: met('dry-crank') },
  { id: 'crank', title: 'Crank and run', done: builds.met('start', 'ran') && builds.met('start', 'cylinders') },
  { id: 'light', title: 'Timing light', done: builds.met('start', 'timing') },
  {
    id: 'hot',
    title: 'Leak round, hot',
    done: readingsOf(readings.value, 'fuel.recheck').some((r) => r.value.when === 'hot' && r.value.dry),
  },
])
const active = computed(() => (steps.value.find((s) => !s.done) ?? steps.value[steps.value.length - 1]).id)
const picked = ref<string | null>(null)
const route = useRoute()
watch(
  () => route.query.tab,
  (tab) => steps.value.some((s) => s.id === tab) && (picked.value = tab as string),
  { immediate: true },
)
const step = computed(() => picked.value ?? active.value)
const followOn = () => (picked.value = null)
/** the bench's stream is nothing of the car's */
const streams = computed(() => !byHand.value || live.device === 'line' || on.value)
const flooded = computed(() => floodedSince(c.value) !== null)
const KNOCK_SHOWN_S = 4
const knocking = computed(
  () => live.heard?.what === 'knock' && live.frame !== null && live.frame.timeS - live.heard.timeS < KNOCK_SHOWN_S && running.value,
)
</script>

<template>
  <div class="start flex flex-col min-h-full">
    <div class="station-head">
      <h1>First start</h1>
      <device-pick v-if="live.state === 'up'" />
      <p v-else-if="live.state === 'refused'">{{ live.why }}</p>
      <p v-else>
        {{ live.state === 'lost' ? 'link lost, trying again; if an engine runs, use the key' : 'connecting to the bench' }}
      </p>
      <n-button v-if="live.state === 'refused'" size="small" @click="live.again()">Try again</n-button>
      <n-button v-if="!flooded" class="flooded ml-auto" data-testid="flooded" @click="builds.record('start.flooded', {})"
        >It flooded</n-button
      >
    </div>

    <caution-strip station="start" />
    <flood-card v-if="flooded" />
    <step-line :steps="steps" :active="active" :here="step" @pick="(id) => (picked = id)" />

    <div v-if="live.stopped" class="alarm" role="alert">
      <strong>Stopped by the app:</strong> {{ settings.say(live.stopped) }}.
      {{ hands ? 'Find the cause before the key goes on again.' : 'Switch pump and key off at the car now.' }}
    </div>
    <div v-if="knocking" class="alarm" role="alert" data-testid="knock">
      <strong>Knock heard at the block.</strong> Ease off; draw the spark back at this speed and load before it is loaded again.
    </div>
    <div v-if="refusal" class="alarm quiet" role="alert" data-testid="refusal">
      <strong>{{ refusal.detail }}</strong>
      <ul v-if="refusal.gates?.length">
        <li v-for="g in refusal.gates" :key="g.label">
          <router-link v-if="g.station !== 'start'" :to="{ name: g.station, params: { id: build.id } }">{{ g.label }}</router-link
          ><template v-else>{{ g.label }}</template>: {{ settings.say(g.why) }}
        </li>
      </ul>
    </div>

    <section class="step min-h-112px">
      <ul v-if="step === 'gates'" class="gates list-none p-0">
        <li v-for="g in gates['key-on']" :key="g.id" class="py-1 px-0" :class="{ met: g.met }">
          <strong class="text-warn inline-block w-44px">{{ g.met ? 'met' : 'open' }}</strong> {{ g.label }}: {{ settings.say(g.why) }}
          <router-link v-if="!g.met" :to="{ name: g.station, params: { id: build.id } }">go there</router-link>
        </li>
      </ul>
      <key-on-step v-else-if="step === 'key'" />
      <taking-step v-else-if="step === 'taking'" />
      <safety-step v-else-if="step === 'safety'" @recorded="followOn" />
      <prime-step v-else-if="step === 'prime'" @recorded="followOn" />
      <leak-step v-else-if="step === 'leak'" key="cold" @recorded="followOn" />
      <dry-crank v-else-if="step === 'dry'" />
      <crank-step v-else-if="step === 'crank'" />
      <light-step v-else-if="step === 'light'" />
      <leak-step v-else key="hot" hot @recorded="followOn" />
    </section>

    <template v-if="streams">
      <live-numbers :frame="live.frame" />
      <first-fire v-if="step === 'crank'" @off="stopAll" />
      <live-traces :frames="live.frames" :seconds="30" />
    </template>
    <cylinder-check v-if="step === 'crank' && (running || builds.met('start', 'ran'))" />

    <template v-if="hands">
      <bench-hands />
      <bench-faults :ids="carFaultIds" />
    </template>

    <stop-bar @stop="stopAll">
      <clock-pick />
      <span class="num state text-t4 min-w-86px">{{ !on ? 'key off' : live.frame?.pumpOn ? 'pump runs' : 'pump off' }}</span>
    </stop-bar>
  </div>
</template>

<style scoped>
.step p {
  margin: 2px 0 var(--s2);
}
.gates .met strong {
  color: var(--clear);
}
</style>
