<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import {
  bleedDown,
  deliveries,
  fuelGates,
  jointsOf,
  latest,
  leakState,
  lostToPumpV,
  pressureChecks,
  pumpOf,
  rechecksDue,
  type EntryKind,
} from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import GateList from '../../shell/GateList.vue'
import { useBuild } from '../../stores/build.ts'
import { useSettings } from '../../stores/settings.ts'
import JointProof from './JointProof.vue'

/** Set-up and proof, step by step: each is a reading, and what can hurt stays shut until the checks before it are recorded. */
const builds = useBuild()
const settings = useSettings()
const c = computed(() => builds.context!)
const last = <K extends EntryKind>(kind: K) => computed(() => latest(c.value.readings, kind))
const isolated = last('fuel.isolated')
const arrows = last('fuel.arrows')
const safety = last('start.safety')
const prime = last('fuel.prime')
const proof = last('fuel.proof')
const bleed = last('fuel.bleed-down')
const draw = last('fuel.pump-draw')
const volts = last('fuel.pump-volts')
const gates = computed(() => fuelGates(c.value, builds.station('fuel')!.findings))
const mayPressurise = computed(() => gates.value.pressurise.every((g) => g.met))
const joints = computed(() => jointsOf(c.value.fuel))
const enclosed = computed(() => joints.value.filter((j) => j.place === 'boot' || j.place === 'cabin'))
const leaks = computed(() => leakState(c.value))
const pressures = computed(() => pressureChecks(c.value))
const delivered = computed(() => deliveries(c.value))
const due = computed(() => rechecksDue(c.value))
const day = (at: string) => at.slice(0, 10)

const again = ref(false)
const bleedVerdict = computed(() => (bleed.value ? bleedDown(bleed.value.value, c.value.fuel.layout) : null))
const expectedA = computed(() =>
  c.value.fuel.pump && c.value.fuel.regulator ? pumpOf(c.value.fuel.pump).currentA(c.value.fuel.regulator.setKpa) : null,
)
</script>

<template>
  <ol class="steps">
    <li :class="{ done: isolated }" data-at="fuel.isolated">
      <h2>Before a line is opened</h2>
      <p v-if="isolated" class="seen">Recorded by {{ isolated.who }}, {{ day(isolated.takenAt) }}.</p>
      <n-button v-if="isolated && !again" size="small" @click="again = true">Do it again</n-button>
      <entry-form v-else kind="fuel.isolated" @recorded="again = false" />
    </li>
    <li :class="{ done: arrows?.value.right }" data-at="fuel.arrows">
      <h2>Flow arrows of pump, filter, check valve</h2>
      <p v-if="arrows" class="seen" :class="{ stop: !arrows.value.right }">
        {{ arrows.value.right ? 'All point the right way' : 'One points the wrong way' }}, {{ arrows.who }}, {{ day(arrows.takenAt) }}.
      </p>
      <p v-if="gates['open-lines'].some((g) => !g.met)" class="soft">Opens when the step above is recorded.</p>
      <entry-form v-else kind="fuel.arrows" />
    </li>
    <li v-if="enclosed.length" :class="{ done: proof?.value.held }" data-at="fuel.proof">
      <h2>Proof of {{ enclosed.length }} joints in closed spaces, before they are covered</h2>
      <p v-if="proof" class="seen" :class="{ stop: !proof.value.held }">
        {{ settings.format(proof.value.pressureKpa, 'pressure') }} for {{ proof.value.minutes }} min:
        {{ proof.value.held ? 'held' : 'did not hold' }}.
      </p>
      <entry-form kind="fuel.proof" :start="{ minutes: 10 }" />
    </li>
    <li :class="{ done: safety }" data-at="start.safety">
      <h2>Two people and a stop word</h2>
      <p v-if="safety" class="seen">Stop word “{{ safety.value.stopWord }}”, agreed {{ day(safety.takenAt) }}.</p>
      <entry-form v-else kind="start.safety" />
    </li>
    <li :class="{ done: prime?.value.pumpStops, shut: !mayPressurise }" data-at="fuel.prime">
      <h2>Prime: key on, no start</h2>
      <p v-if="prime" class="seen" :class="{ stop: !prime.value.pumpStops }">
        {{ prime.value.cycles }} times; the pump {{ prime.value.pumpStops ? 'stops by itself' : 'does not stop' }}.
      </p>
      <gate-list v-if="!mayPressurise" :gates="gates.pressurise" :build-id="builds.current!.id" />
      <entry-form v-else kind="fuel.prime" :start="{ cycles: 2 }" />
    </li>
    <li :class="{ done: leaks.passed, shut: !mayPressurise }" data-at="fuel.leak-check">
      <h2>
        Joints under pressure, light and dry towel
        <small class="soft">{{ joints.length - leaks.unseen.length }} of {{ joints.length }} seen dry</small>
      </h2>
      <joint-proof :disabled="!mayPressurise" />
    </li>
    <li :class="{ done: pressures.length }" data-at="fuel.pressure">
      <h2>Set pressure at the regulator</h2>
      <p v-for="p in pressures" :key="String(p.running)" class="seen" :class="{ warn: p.off }">
        {{ p.running ? 'At idle' : 'Engine off' }}: {{ settings.format(p.pressureKpa, 'pressure') }} on the gauge,
        {{ settings.format(p.baseKpa, 'pressure') }} over the port; {{ p.fuelPct >= 0 ? '+' : '' }}{{ p.fuelPct.toFixed(1) }} % fuel against
        the tune.
      </p>
      <entry-form
        kind="fuel.pressure"
        :start="{ engineRunning: false }"
        :without="c.fuel.regulator?.reference === 'open' ? ['referenceKpa'] : []"
      />
    </li>
    <li :class="{ done: bleedVerdict?.cause === 'holds' }" data-at="fuel.bleed-down">
      <h2>Bleed-down after key-off</h2>
      <p v-if="bleedVerdict" class="seen" :class="{ warn: bleedVerdict.cause !== 'holds' }">
        {{ settings.say(bleedVerdict.because) }} {{ bleedVerdict.remedy }}
      </p>
      <entry-form kind="fuel.bleed-down" :start="{ pinch: 'not-tried' }" />
    </li>
    <li :class="{ done: draw }" data-at="fuel.pump-draw">
      <h2>
        Pump draw and its volts
        <small v-if="expectedA !== null" class="soft">its sheet says {{ settings.format(expectedA, 'current') }}</small>
      </h2>
      <p v-if="draw" class="seen">
        {{ settings.format(draw.value.currentA, 'current') }} at {{ settings.format(draw.value.voltageV, 'voltage')
        }}{{ volts ? `, ${settings.format(lostToPumpV(volts.value), 'voltage')} lost on the way` : '' }}.
      </p>
      <entry-form kind="fuel.pump-draw" :start="{ pressureKpa: c.fuel.regulator?.setKpa }" />
      <entry-form kind="fuel.pump-volts" />
    </li>
    <li :class="{ done: delivered.length, shut: !mayPressurise }" data-at="fuel.delivery">
      <h2>Delivery into a can, at set pressure and running volts</h2>
      <p v-for="d in delivered" :key="String(d.warm)" class="seen">
        {{ d.warm ? 'Hot' : 'Cold' }}: {{ settings.format(d.measuredLph, 'pumpFlow') }} at {{ settings.format(d.pressureKpa, 'pressure')
        }}{{ d.curveLph === null ? '' : `; its curve gives ${settings.format(d.curveLph, 'pumpFlow')}`
        }}{{ d.wantedLph === null ? '' : `, full power with its margin wants ${settings.format(d.wantedLph, 'pumpFlow')}` }}.
      </p>
      <p class="soft">
        Return line into an approved can outdoors, nothing that sparks, extinguisher at hand; the pump run by its own relay, engine off.
      </p>
      <gate-list v-if="!mayPressurise" :gates="gates.pressurise" :build-id="builds.current!.id" />
      <entry-form
        v-else
        kind="fuel.delivery"
        :start="{ seconds: 30, pressureKpa: c.fuel.regulator?.setKpa, voltageV: 13.5, warm: false }"
      />
    </li>
    <li v-if="due.length" data-at="fuel.recheck">
      <h2>Fall due</h2>
      <div v-for="d in due" :key="d.when" class="row">
        <span class="due max-w-full min-w-250px self-center">{{ d.label }} <small class="soft">{{ d.dueAt }}</small></span>
        <entry-form class="max-w-full" kind="fuel.recheck" :given="{ when: d.when }" />
      </div>
    </li>
  </ol>
</template>

<style scoped>
.steps {
  list-style: none;
  counter-reset: step;
  margin: 0;
  padding: 0;
}
.steps > li {
  counter-increment: step;
  position: relative;
  padding: var(--s3) 0 var(--s4) var(--s6);
  border-bottom: 1px solid var(--hair);
}
.steps > li::before {
  content: counter(step);
  position: absolute;
  left: 0;
  top: 10px;
  width: 30px;
  height: 30px;
  border: 2px solid var(--soft);
  display: grid;
  place-items: center;
  font: 600 var(--t3) var(--head);
}
.steps > .done::before {
  content: '✓';
  border-color: var(--clear);
  color: var(--clear);
}
h2 small {
  font: 500 var(--t2) var(--text);
  margin-left: var(--s2);
}
.seen {
  margin: var(--s1) 0;
}
</style>
