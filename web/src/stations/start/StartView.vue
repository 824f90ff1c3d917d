<script setup lang="ts">
import { NButton, NCheckbox, NInput, useMessage } from 'naive-ui'
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { carFaultIds, latest, readingsOf, startGates, stopsBefore } from '@vectum/core'
import QuantityField from '../../quantity/QuantityField.vue'
import CautionStrip from '../../shell/CautionStrip.vue'
import BenchFaults from '../../shell/BenchFaults.vue'
import DryCrank from './DryCrank.vue'
import FirstFire from './FirstFire.vue'
import FloodCard from './FloodCard.vue'
import { useBuild } from '../../stores/build.ts'
import { useLive, type Reply } from '../../stores/live.ts'
import { useSettings } from '../../stores/settings.ts'
import LiveNumbers from './LiveNumbers.vue'
import LiveTraces from './LiveTraces.vue'

const builds = useBuild()
const live = useLive()
const settings = useSettings()
const message = useMessage()
const router = useRouter()
const build = computed(() => builds.current!)
const c = computed(() => builds.context!)
const refusal = ref<Reply | null>(null)
const busy = ref(false)

onMounted(() => live.open(build.value.id))
// the session goes on at the server; only this screen lets go
onBeforeUnmount(() => live.close())

const readings = computed(() => c.value.readings)
const f = computed(() => live.frame)
const on = computed(() => live.state === 'up' && f.value !== null && f.value.state !== 'off')
const running = computed(() => f.value?.state === 'running' && f.value.rpm > 300)
const gates = computed(() => startGates(c.value, stopsBefore(build.value.stations, 'start')))
const met = (id: string) => gates.value.crank.find((g) => g.id === id)?.met ?? false
const keyGatesMet = computed(() => gates.value['key-on'].every((g) => g.met))

const stopWord = ref('')
const extinguisher = ref(false)
const pressure = ref<number | undefined>()
const wetWhere = ref('')
const ran = computed(() => latest(readings.value, 'start.ran'))
const hotRound = computed(() => readingsOf(readings.value, 'fuel.recheck').find((r) => r.value.when === 'hot' && r.value.dry) ?? null)

async function say(command: string, values: Record<string, unknown> = {}): Promise<Reply> {
  busy.value = true
  const reply = await live.send(command, values)
  busy.value = false
  refusal.value = reply.ok ? null : reply
  return reply
}
const steps = computed(() => [
  { id: 'gates', title: 'Gates', done: keyGatesMet.value },
  { id: 'key', title: 'Key on, checks', done: met('sanity') },
  { id: 'safety', title: 'Helper and fire', done: met('safety') },
  { id: 'prime', title: 'Prime, pressure', done: met('pressure') },
  { id: 'leak', title: 'Leak check', done: met('leak') },
  { id: 'dry', title: 'Crank, no fuel', done: met('dry-crank') },
  { id: 'crank', title: 'Crank and run', done: ran.value !== null },
  {
    id: 'light',
    title: 'Timing light',
    done: build.value.stations.find((s) => s.id === 'start')?.requirements.find((r) => r.id === 'timing')?.met ?? true,
  },
  { id: 'hot', title: 'Leak round, hot', done: hotRound.value !== null },
])
const active = computed(() => (steps.value.find((s) => !s.done) ?? steps.value[steps.value.length - 1]).id)
const picked = ref<string | null>(null)
const step = computed(() => picked.value ?? active.value)

async function prime(): Promise<void> {
  const reply = await say('pump', { allowed: true })
  if (reply.ok) live.pumpAllowed = true
}
function recordSafety(): void {
  builds.record('start.safety', { extinguisher: true, helper: true, stopWord: stopWord.value.trim() })
  picked.value = null
}
function recordPressure(): void {
  builds.record('fuel.pressure', { pressureKpa: pressure.value, engineRunning: running.value }, { instrument: 'fuel gauge' })
  picked.value = null
}
function recordLeak(dry: boolean): void {
  // fuel is coming out: nothing stays on while it is written down
  if (!dry) void stopAll()
  builds.record('fuel.leak-check', dry ? { dry } : { dry, ...(wetWhere.value.trim() ? { where: wetWhere.value.trim() } : {}) })
  picked.value = null
}
function hotWet(): void {
  void stopAll()
  builds.record('fuel.recheck', { when: 'hot', dry: false })
}
const fixed = ref(false)
async function fixTiming(): Promise<void> {
  fixed.value = !fixed.value
  const reply = await say('fix-timing', { advanceDeg: fixed.value ? 15 : null })
  if (!reply.ok) fixed.value = false
}
async function readLight(): Promise<void> {
  const reply = await say('light')
  if (!reply.ok) return
  const seen = reply.data as { rpm: number; observedDeg: number; commandedDeg: number }
  const setting = live.setting
  if (!setting) {
    message.info(`The light shows ${seen.observedDeg}° at ${seen.rpm} rpm. The unit does not time the spark, so there is nothing to fit.`)
    return
  }
  builds.record(
    'spark.timing-light',
    { ...seen, referenceDeg: setting.referenceDeg, delayUs: setting.delayUs },
    { instrument: 'bench timing light' },
  )
  message.success(`Recorded: ${seen.observedDeg}° at ${seen.rpm} rpm, ${seen.commandedDeg}° commanded`)
}
async function saveTrace(): Promise<void> {
  const reply = await say('save-trace')
  if (reply.ok) message.success(`Trace saved as a log, ${(reply.data as { rows: number }).rows} rows`)
}
async function stopAll(): Promise<void> {
  live.pumpAllowed = false
  live.stopped = null
  fixed.value = false
  await say('stop')
}
const throttle = ref(0)
const setThrottle = () => void say('throttle', { pct: throttle.value })
</script>

<template>
  <div class="start">
    <div class="station-head">
      <h1>First start</h1>
      <p>
        <template v-if="live.state === 'up'"><strong class="bench">BENCH</strong> simulated car, tune {{ live.tuneNumber }}</template
        ><template v-else-if="live.state === 'refused'">{{ live.why }}</template
        ><template v-else>{{
          live.state === 'lost' ? 'link lost, trying again; if an engine runs, use the key' : 'connecting to the bench'
        }}</template>
      </p>
      <n-button v-if="live.state === 'refused'" size="small" @click="live.again()">Try again</n-button>
    </div>

    <caution-strip station="start" />
    <flood-card />
    <ol class="steps" aria-label="Steps">
      <li v-for="(s, i) in steps" :key="s.id">
        <button :class="{ here: step === s.id, done: s.done }" :aria-current="step === s.id ? 'step' : undefined" @click="picked = s.id">
          <span class="num">{{ i + 1 }}</span>{{ s.title }}<small>{{ s.done ? 'done' : s.id === active ? 'now' : '' }}</small>
        </button>
      </li>
    </ol>

    <div v-if="live.stopped" class="alarm" role="alert">
      <strong>Stopped by the app:</strong> {{ live.stopped }}. Find the cause before the key goes on again.
    </div>
    <div v-if="refusal" class="refusal" role="alert" data-testid="refusal">
      <strong>{{ refusal.detail }}</strong>
      <ul v-if="refusal.gates?.length">
        <li v-for="g in refusal.gates" :key="g.label">
          <router-link v-if="g.station !== 'start'" :to="{ name: g.station, params: { id: build.id } }">{{ g.label }}</router-link><template
            v-else
            >{{ g.label }}</template
          >: {{ g.why }}
        </li>
      </ul>
    </div>

    <section class="panel">
      <template v-if="step === 'gates'">
        <ul class="gates">
          <li v-for="g in gates['key-on']" :key="g.id" :class="{ met: g.met }">
            <strong>{{ g.met ? 'met' : 'open' }}</strong> {{ g.label }}: {{ g.why }}
            <router-link v-if="!g.met" :to="{ name: g.station, params: { id: build.id } }">go there</router-link>
          </li>
        </ul>
      </template>
      <template v-else-if="step === 'key'">
        <p>Pump fuse out. Key on, engine off; then press the throttle fully twice. The app watches.</p>
        <div class="row">
          <n-button
            type="primary"
            size="large"
            :disabled="busy || live.state !== 'up'"
            data-testid="key"
            @click="say('key', { on: !on })"
            >{{ on ? 'Key off' : 'Key on' }}</n-button
          >
          <n-button size="large" :disabled="!on || busy || running" data-testid="sweep" @click="say('sweep')"
            >Press the throttle once</n-button
          >
        </div>
        <ul v-if="on || live.checks.length" class="checks">
          <li v-for="check in live.checks" :key="check.id" :class="check.state" :data-testid="`check-${check.id}`">
            <span class="mark">{{ check.state === 'pass' ? 'good' : check.state === 'fail' ? 'BAD' : '…' }}</span><strong>{{
              check.label
            }}</strong
            ><span class="num">{{ check.seen }}</span
            ><small class="soft">{{ check.limit }}</small>
          </li>
        </ul>
      </template>
      <template v-else-if="step === 'safety'">
        <p>
          Whoever turns the key and whoever looks for leaks are two people. Wheels chocked, neutral, brake on, exhaust led outside, sleeves
          and hair away from the fan.
        </p>
        <div class="row">
          <n-checkbox v-model:checked="extinguisher" size="large" data-testid="extinguisher"
            >Class B extinguisher within reach, pin seen</n-checkbox
          >
          <n-input
            v-model:value="stopWord"
            class="word"
            placeholder="stop word"
            :maxlength="40"
            :input-props="{ 'aria-label': 'Stop word' }"
          />
          <n-button type="primary" :disabled="!extinguisher || !stopWord.trim()" @click="recordSafety">Agreed, record it</n-button>
        </div>
      </template>
      <template v-else-if="step === 'prime'">
        <p>Pump fuse in; the unit runs the pump for its few seconds and stops it. Read the gauge. No start yet.</p>
        <div class="row">
          <n-button v-if="!on" size="large" :disabled="busy || live.state !== 'up'" @click="say('key', { on: true })">Key on</n-button>
          <n-button type="primary" size="large" :disabled="busy || !on" data-testid="prime" @click="prime">Prime</n-button>
          <span class="gauge num">{{ settings.format(f?.fuelPressureKpa, 'pressure') }}</span>
          <quantity-field
            v-model="pressure"
            label="Gauge reads"
            dimension="pressure"
            :check="(v) => (v! < 0 ? 'must be at least 0 kPa' : v! > 1500 ? 'must be at most 1500 kPa' : null)"
          />
          <n-button :disabled="pressure === undefined" @click="recordPressure">Record</n-button>
        </div>
      </template>
      <template v-else-if="step === 'leak'">
        <p>
          With pressure standing, every joint: a light and a dry paper towel. Any wetness stops the job. No open flame, no running machine
          nearby.
        </p>
        <div class="row">
          <n-button type="primary" size="large" data-testid="leak-dry" @click="recordLeak(true)">Every joint is dry</n-button>
          <n-input
            v-model:value="wetWhere"
            class="word"
            placeholder="where it is wet"
            :maxlength="200"
            :input-props="{ 'aria-label': 'Where it is wet' }"
          />
          <n-button size="large" @click="recordLeak(false)">Wet</n-button>
        </div>
      </template>
      <dry-crank v-else-if="step === 'dry'" :say="say" :on="on" />
      <template v-else-if="step === 'hot'">
        <p>Engine hot, running or just off: every joint once more with light and dry towel. Mind the exhaust and the fan.</p>
        <div class="row">
          <n-button type="primary" size="large" data-testid="hot-dry" @click="builds.record('fuel.recheck', { when: 'hot', dry: true })"
            >Every joint is dry</n-button
          >
          <n-button size="large" @click="hotWet">Wet</n-button>
        </div>
      </template>
      <template v-else-if="step === 'crank'">
        <p>
          {{
            running
              ? 'It runs. One light reading within the first minute; oil pressure, leaks; lambda comes towards its target, the fan comes on. A new flat-tappet cam: hold the speed its maker’s sheet says.'
              : 'Throttle shut. Hold the starter; let go when it fires. Ten seconds at most.'
          }}
        </p>
        <div class="row">
          <n-button v-if="!on" size="large" :disabled="busy || live.state !== 'up'" @click="say('key', { on: true })">Key on</n-button>
          <n-button v-if="on && !live.pumpAllowed" size="large" @click="prime">Prime</n-button>
          <n-button
            v-if="!running"
            type="primary"
            size="large"
            :disabled="busy || !on"
            data-testid="crank"
            @click="say('crank', { on: f?.state !== 'cranking' })"
            >{{ f?.state === 'cranking' ? 'Let go' : 'Crank' }}</n-button
          >
          <n-button v-if="running" @click="saveTrace">Save the trace as a log</n-button>
          <label class="slider"
            >Throttle
            <input v-model.number="throttle" type="range" min="0" max="100" aria-label="Throttle, percent" @change="setThrottle" />
            {{ throttle }} %</label
          >
        </div>
      </template>
      <template v-else>
        <p>Hold the advance at 15°, read the damper at idle and near 3,000 rpm. Mind the fan: sleeves, hair, leads.</p>
        <div class="row">
          <n-button :type="fixed ? 'default' : 'primary'" size="large" :disabled="!running" @click="fixTiming">{{
            fixed ? 'Release timing' : 'Hold at 15°'
          }}</n-button>
          <n-button type="primary" size="large" :disabled="!running || !fixed" data-testid="light" @click="readLight"
            >Read the light</n-button
          >
          <label class="slider"
            >Throttle
            <input
              v-model.number="throttle"
              type="range"
              min="0"
              max="60"
              aria-label="Throttle, percent"
              data-testid="throttle"
              @change="setThrottle"
            />
            {{ throttle }} %</label
          >
          <n-button @click="router.push({ name: 'spark', params: { id: build.id } })">See the fit at Spark</n-button>
        </div>
      </template>
    </section>

    <first-fire v-if="step === 'crank' && !running" @off="stopAll" />

    <live-numbers :frame="f" />
    <live-traces :frames="live.frames" :seconds="30" />

    <div class="foot">
      <button class="off" data-testid="off" @click="stopAll">Pump and key off</button>
      <div class="clock" role="group" aria-label="Bench clock">
        <span class="soft">bench clock</span>
        <button v-for="r in [1, 5, 20]" :key="r" :class="{ on: live.rate === r }" @click="say('clock', { rate: r })">×{{ r }}</button>
      </div>
      <span class="num state">{{ f?.pumpOn ? 'pump runs' : 'pump off' }}</span>
    </div>
    <bench-faults class="faults" :ids="carFaultIds" />
  </div>
</template>

<style scoped>
.faults {
  margin-top: 14px;
}
.start {
  display: flex;
  flex-direction: column;
  min-height: 100%;
}
.bench {
  border: 1px solid var(--data);
  color: var(--data);
  padding: 0 6px;
  letter-spacing: 0.08em;
}
.steps {
  display: grid;
  grid-template-columns: repeat(9, minmax(0, 1fr));
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
  border: 1px solid var(--soft);
}
.steps button {
  width: 100%;
  height: 100%;
  min-height: 60px;
  border: 0;
  border-right: 1px solid var(--hair);
  background: var(--sheet);
  color: var(--ink);
  font:
    600 16px/1.1 'Barlow Condensed',
    sans-serif;
  cursor: pointer;
  padding: 4px 6px;
}
.steps .num {
  display: block;
  font-size: 19px;
}
.steps small {
  display: block;
  color: var(--soft);
  min-height: 15px;
  font-size: 14px;
}
.steps .done {
  color: var(--clear);
}
.steps .here {
  background: var(--ink);
  color: var(--onInk);
}
.steps .here small {
  color: var(--onInk);
}
.alarm,
.refusal {
  border: 2px solid var(--stop);
  color: var(--stop);
  padding: 8px 12px;
  margin-bottom: 8px;
}
.alarm {
  font-size: 20px;
}
ul {
  margin: 4px 0 0;
  padding-left: 20px;
}
.panel {
  min-height: 112px;
}
.panel p {
  margin: 2px 0 8px;
}
.row {
  display: flex;
  gap: 12px;
  align-items: end;
  flex-wrap: wrap;
}
.word {
  width: 190px;
}
.gauge {
  font-size: 40px;
  line-height: 1;
  min-width: 120px;
}
.gates,
.checks {
  list-style: none;
  padding: 0;
}
.gates li {
  padding: 3px 0;
}
.gates strong {
  color: var(--warn);
  display: inline-block;
  width: 44px;
}
.gates .met strong {
  color: var(--clear);
}
.checks li {
  display: grid;
  grid-template-columns: 46px 230px 1fr 1fr;
  gap: 8px;
  border-bottom: 1px dotted var(--hair);
  padding: 2px 0;
  font-size: 15px;
  align-items: baseline;
}
.checks .mark {
  font-weight: 600;
}
.checks .pass .mark {
  color: var(--clear);
}
.checks .fail .mark {
  color: var(--stop);
}
.foot {
  position: sticky;
  bottom: -18px;
  background: var(--sheet);
  display: flex;
  gap: 18px;
  align-items: center;
  margin-top: auto;
  padding: 8px 0 16px;
}
.off {
  background: var(--stop);
  color: var(--onInk);
  border: 0;
  font:
    600 30px 'Barlow Condensed',
    sans-serif;
  min-height: 68px;
  flex: 1;
  cursor: pointer;
}
.clock {
  display: flex;
  align-items: center;
}
.clock span {
  margin-right: 8px;
  font-size: 14px;
}
.clock button {
  border: 1px solid var(--soft);
  background: var(--sheet);
  color: var(--ink);
  min-width: 46px;
  min-height: 44px;
  cursor: pointer;
  font:
    600 16px 'Barlow Condensed',
    sans-serif;
}
.clock .on {
  background: var(--ink);
  color: var(--onInk);
}
.state {
  font-size: 20px;
  min-width: 86px;
}
.slider {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 44px;
}
.slider input {
  width: 150px;
}
</style>
