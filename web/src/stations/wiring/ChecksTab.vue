<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import {
  type EntryKind,
  entryKinds,
  entryWords,
  type HeldAt,
  keyedCandidates,
  plugsOf,
  proved,
  readingsOf,
  wiringFaultIds,
  wiringInstruments,
} from '@vectum/core'
import EntryForm from '../../kit/EntryForm.vue'
import EntryStanding from '../../kit/EntryStanding.vue'
import OptionRow from '../../quantity/OptionRow.vue'
import { useLanding } from '../../shell/landing.ts'
import { useSettings } from '../../stores/settings.ts'
import BenchFaults from '../../shell/BenchFaults.vue'
import BenchMeter from './BenchMeter.vue'
import KeyedVerdict from './KeyedVerdict.vue'
import RelayScheme from './RelayScheme.vue'
import { useHarness } from './use-harness.ts'

/** The order of work as proof steps: power off first, on last; each connector; then what a meter says. */
const { builds, c, harness, wiring } = useHarness()
const settings = useSettings()
const landing = useLanding()
const steps = computed((): { kind: EntryKind; why: string }[] => [
  { kind: 'wiring.isolated', why: 'Before any wire is touched. Earthed terminal first: a spanner that slips then meets nothing.' },
  { kind: 'wiring.splice', why: 'Each joint by itself: sealed, sleeved, pulled, never where the loom bends.' },
  { kind: 'wiring.spare-lead', why: 'A bare end is a short that waits, a long one an aerial.' },
  { kind: 'wiring.connector', why: 'Every pin seated, the latch home, each wire tugged.' },
  { kind: 'wiring.insulation', why: 'Fuses out, loads unplugged: from each fuse’s load side to ground.' },
  { kind: 'wiring.fuse', why: 'The size on the card, one by one.' },
  { kind: 'wiring.power-on', why: 'Last of all, and no spark at the post.' },
  { kind: 'wiring.keyed', why: 'Meter and 21 W lamp, in every state of the key, cranking with it. Coil unplugged, fuel off.' },
  { kind: 'wiring.relay', why: 'Clicks, and loses little over its contacts.' },
  { kind: 'wiring.ground-drop', why: 'Current must flow: loads on, or cranking.' },
  { kind: 'wiring.crank-volts', why: 'At the unit’s own pins, lowest kept.' },
  { kind: 'wiring.parked-draw', why: 'Key off, doors shut, after ten minutes.' },
  ...(wiring.value.bus ? [{ kind: 'wiring.bus' as const, why: 'Power off, between its two wires.' }] : []),
  { kind: 'wiring.opened', why: 'Say so whenever the harness is opened again: what was proved on it ends there.' },
])
const open = ref<EntryKind | null>(null)
const next = computed(() => {
  const first = builds.station('wiring')?.requirements.find((r) => !r.met)
  return (first?.where?.field ?? null) as EntryKind | null
})
watch(landing.at, (at) => at && at in entryKinds && (open.value = at as EntryKind), { immediate: true })
watch(next, (kind) => (open.value ??= kind), { immediate: true })
const plugs = computed(() => plugsOf(harness.value))
const done = (place: string): boolean => proved(c.value, 'wiring.connector', (r) => r.value.place === place) !== null
const keyed = computed(() => readingsOf(builds.saved?.readings ?? [], 'wiring.keyed'))
const of = (kind: EntryKind) => readingsOf(builds.saved?.readings ?? [], kind)
const said = (kind: EntryKind, value: never): string => entryWords(kind, value, settings.units)

const onBench = computed(() => builds.view === 'rehearsal')
const candidate = ref<keyof typeof keyedCandidates>('switch')
const candidates = Object.entries(keyedCandidates).map(([value, label]) => ({ value: value as keyof typeof keyedCandidates, label }))
const ground = ref<'unit' | 'engine' | 'body' | 'sensor'>('unit')
const grounds = (['unit', 'engine', 'body', 'sensor'] as const).map((value) => ({ value, label: value }))
const benchKind = (kind: EntryKind): kind is keyof typeof wiringInstruments => kind in wiringInstruments
async function readBench(kind: EntryKind): Promise<void> {
  const at: HeldAt = { candidate: candidate.value, ground: ground.value }
  await builds.readBench(
    kind,
    kind === 'wiring.keyed' ? { candidate: at.candidate } : kind === 'wiring.ground-drop' ? { ground: at.ground } : {},
  )
}
async function allPlugs(): Promise<void> {
  for (const { place } of plugs.value) if (!done(place)) await builds.readBench('wiring.connector', { place })
}
</script>

<template>
  <section class="pad">
    <ol class="steps">
      <li v-for="s in steps" :key="s.kind" :data-at="s.kind" :class="{ next: s.kind === next }">
        <button
          class="head-row"
          :aria-expanded="open === s.kind"
          :data-testid="`step-${s.kind}`"
          @click="open = open === s.kind ? null : s.kind"
        >
          <strong>{{ entryKinds[s.kind].title }}</strong>
          <span v-if="s.kind === 'wiring.connector'" class="soft"
            >{{ plugs.filter((k) => done(k.place)).length }} of {{ plugs.length }}</span
          >
          <span v-else class="soft">{{ of(s.kind).length ? `${of(s.kind).length} on record` : '' }}</span>
        </button>
        <div v-if="open === s.kind" class="body">
          <p class="measure">{{ s.why }}</p>
          <template v-if="s.kind === 'wiring.connector'">
            <n-button v-if="onBench" size="large" dashed data-testid="bench-plugs" @click="allPlugs">Bench: look at them all</n-button>
            <ul class="plugs">
              <li v-for="k in plugs" :key="k.place">
                <span :class="{ clear: done(k.place) }">{{ k.label }}, {{ k.pins.length }} {{ k.pins.length === 1 ? 'pin' : 'pins' }}</span>
                <entry-form
                  v-if="!done(k.place)"
                  kind="wiring.connector"
                  :given="{ place: k.place }"
                  :without="['seated', 'latched', 'tugged']"
                  :each="k.place"
                />
              </li>
            </ul>
          </template>
          <template v-else>
            <option-row v-if="onBench && s.kind === 'wiring.keyed'" v-model="candidate" :options="candidates" firm label="Wire" />
            <option-row v-if="onBench && s.kind === 'wiring.ground-drop'" v-model="ground" :options="grounds" firm label="Ground" />
            <n-button v-if="onBench && benchKind(s.kind)" size="large" dashed :data-testid="`bench-${s.kind}`" @click="readBench(s.kind)"
              >Bench: {{ wiringInstruments[s.kind].title }}</n-button
            >
            <entry-form :kind="s.kind" />
          </template>
          <keyed-verdict v-if="s.kind === 'wiring.keyed'" :readings="keyed" />
          <relay-scheme v-if="s.kind === 'wiring.keyed'" :readings="keyed" />
          <ul v-if="s.kind !== 'wiring.connector' && of(s.kind).length" class="entries">
            <li v-for="r in of(s.kind)" :key="r.id">{{ said(s.kind, r.value as never) }} <entry-standing :reading-id="r.id" /></li>
          </ul>
        </div>
      </li>
    </ol>
    <template v-if="onBench">
      <bench-meter />
      <bench-faults :ids="wiringFaultIds" />
    </template>
  </section>
</template>

<style scoped>
.steps {
  list-style: none;
  padding: 0;
  counter-reset: step;
}
.steps > li {
  border-left: 4px solid var(--hair);
  padding-left: var(--s3);
  margin-bottom: var(--s1);
}
.steps > li.next {
  border-color: var(--ink);
}
.head-row {
  width: 100%;
  min-height: 44px;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  font-size: var(--t3);
  text-align: left;
  cursor: pointer;
}
.plugs,
.entries {
  padding-left: var(--s4);
}
.plugs {
  columns: 2 320px;
}
.plugs li {
  break-inside: avoid;
}
</style>
