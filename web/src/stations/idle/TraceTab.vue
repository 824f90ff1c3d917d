<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { IdleVerdict, LOOKS_WANTED, readingsOf, type Regime, regimeWords } from '@vectum/core'
import { api } from '../../api/client.ts'
import OptionRow from '../../quantity/OptionRow.vue'
import IdleList from './IdleList.vue'
import SpectrumBars from './SpectrumBars.vue'
import SpeedTrace from './SpeedTrace.vue'
import VerdictCard from './VerdictCard.vue'
import { useIdle } from './use-idle.ts'

/** The idle judged: from the stream every second, from a log, or from looks at a display; each put on record when a person says so. */
const { builds, live, c, streams, seen, recent, targetRpm } = useIdle()
/** a quicker clock of the bench thins its stream too far for a swing of a second */
const JUDGED_TO_RATE = 5
const regime = ref<Regime>('neutral')
const regimes = computed(() =>
  (Object.entries(regimeWords) as [Regime, string][])
    .filter(([id]) => id !== 'in-gear' || c.value.resolved.automatic)
    .map(([value, label]) => ({ value, label })),
)
/** Asks for the verdict as an entry; what it idled in goes before it. */
function record(from: { sessionId?: string; logId?: string; entryIds?: string[] }): void {
  if (regime.value === 'neutral') return void builds.ask('idle.verdict', from)
  builds.record('idle.regime', { regime: regime.value }, {}, (id) =>
    builds.ask('idle.verdict', { ...from, entryIds: [...(from.entryIds ?? []), id] }),
  )
}

const logId = ref('')
const ofLog = ref<IdleVerdict | null>(null)
const busy = ref(false)
const problem = ref<string | null>(null)
async function open(): Promise<void> {
  ofLog.value = null
  problem.value = null
  if (!logId.value) return
  busy.value = true
  try {
    ofLog.value = await api(`/logs/${logId.value}/idle${targetRpm.value ? `?targetRpm=${targetRpm.value}` : ''}`, IdleVerdict)
  } catch (e) {
    problem.value = (e as Error).message
  } finally {
    busy.value = false
  }
}
/** looks at a display since the screw was turned last */
const looks = computed(() => {
  const { readings } = c.value
  const turned = readings.findLastIndex((r) => r.kind === 'idle.screw')
  return readingsOf(readings.slice(turned + 1), 'idle.point').filter((r) => r.value.valve !== 'blocked')
})
</script>

<template>
  <section class="pad">
    <div class="act">
      <span class="soft">It idles</span>
      <option-row v-model="regime" firm label="What is on" :options="regimes" />
    </div>
    <template v-if="streams">
      <speed-trace
        :time-s="recent.map((f) => f.timeS)"
        :rpm="recent.map((f) => f.rpm)"
        :target-rpm="targetRpm"
        label="The last of the stream"
      />
      <p v-if="live.rate > JUDGED_TO_RATE" class="warn" role="status">
        At this clock the readings come too far apart to be judged: ×{{ JUDGED_TO_RATE }} or slower.
      </p>
      <template v-if="seen">
        <verdict-card :verdict="seen.verdict" />
        <n-button
          v-if="seen.verdict.verdict !== 'not-enough-data' && live.session && live.device !== 'replay'"
          type="primary"
          size="large"
          data-testid="record-idle"
          @click="record({ sessionId: live.session })"
          >Put it on record</n-button
        >
        <spectrum-bars :spectrum="seen.spectrum" :period-s="seen.verdict.periodS" :amplitude-rpm="seen.verdict.amplitudeRpm" />
      </template>
      <p v-else class="empty">It is judged once it idles: half a minute, warm, foot off, nothing touched.</p>
    </template>
    <template v-else>
      <p class="measure">
        Without a logger: three looks at the unit’s display, a few seconds apart, typed under Air ({{ looks.length }} since the screw was
        turned). A display shows no swing and no roughness; a log of a minute shows both.
      </p>
      <n-button
        size="large"
        :disabled="looks.length < LOOKS_WANTED"
        data-testid="judge-looks"
        @click="record({ entryIds: looks.slice(-LOOKS_WANTED).map((r) => r.id) })"
        >Judge the last {{ LOOKS_WANTED }} looks</n-button
      >
    </template>

    <h2>From a log</h2>
    <div class="act">
      <select v-model="logId" class="min-w-220px" aria-label="Log to judge" data-testid="idle-log" @change="open">
        <option value="">a log of this car</option>
        <option v-for="l in builds.current!.logs" :key="l.id" :value="l.id">{{ l.name }}</option>
      </select>
      <span v-if="busy" class="soft">reading it …</span>
      <n-button v-if="ofLog && ofLog.verdict !== 'not-enough-data'" data-testid="record-log-idle" @click="record({ logId })"
        >Put it on record</n-button
      >
    </div>
    <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
    <template v-if="ofLog">
      <verdict-card :verdict="ofLog" />
      <idle-list :idles="ofLog.idles" />
    </template>
  </section>
</template>
